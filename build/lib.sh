# Shared steps of ./run, ./test and ./cleartide.
export DOTNET_CLI_TELEMETRY_OPTOUT=1 DOTNET_NOLOGO=1 TESTINGPLATFORM_TELEMETRY_OPTOUT=1

# build_solution WHAT: compilers live for a minute, in which what is compiled a second time, for speed, costs more than it gives.
build_solution() { DOTNET_TieredPGO=0 dotnet build "$1" -c Release -v quiet --nologo; }

# compile_ahead [--no-build]: the command line, compiled for this machine so that it starts at once.
compile_ahead() {
  DOTNET_TieredPGO=0 dotnet publish src/ClearTide.Cli -c Release -o artifacts/cli -v quiet --nologo "$@" \
    && touch artifacts/cli/cleartide.dll
}

require_tools() {
  for tool in dotnet node npm; do
    command -v "$tool" >/dev/null || { echo "$tool is missing. Install the .NET 10 SDK and Node 20, then try again." >&2; exit 1; }
  done
}

# newer OUT IN...: whether any input is newer than the output, or the output is missing.
newer() {
  local out=$1; shift
  [ ! -e "$out" ] || [ -n "$(find "$@" -newer "$out" -not -path '*/bin/*' -not -path '*/obj/*' -print -quit 2>/dev/null)" ]
}

# install_packages FOLDER: npm packages at the versions of the lock file, only when it changed. Not "npm ci": it refuses a lock
# file from a registry that lacks the optional packages of other platforms.
install_packages() {
  if newer "$1/node_modules/.installed" "$1/package-lock.json"; then
    (cd "$1" && npm install --no-save --no-progress --loglevel=error) || exit 1
    touch "$1/node_modules/.installed"
  fi
}

build_browser_files() {
  local web=src/ClearTide.Web
  install_packages "$web"
  if newer "$web/wwwroot/dist/site.js" "$web/Scripts" "$web/Styles" "$web/Pages" "$web/build" "$web/package-lock.json" "$web/node_modules/.installed"; then
    (cd "$web" && npm run --silent build) || exit 1
    touch "$web/wwwroot/dist/site.js"
  fi
}

# once STAMP COMMAND... -- IN...: runs a check where any input changed since it last passed.
once() {
  local stamp="artifacts/checked/$1" command=()
  shift
  while [ "$1" != -- ]; do command+=("$1"); shift; done
  shift
  newer "$stamp" "$@" || return 0
  "${command[@]}" || return 1
  mkdir -p artifacts/checked && touch "$stamp"
}

# Types and mistakes of scripts and styles, and the layout of C#.
check_scripts() {
  local web=src/ClearTide.Web
  once scripts npm run --silent --prefix "$web" check -- "$web"/{Scripts,Styles,build,package.json,eslint.config.mjs,tsconfig.json} \
    tests/browser/*.mjs tests/browser/support bench/*.mjs
}

check_format() {
  once format bash -c 'dotnet tool restore >/dev/null && dotnet csharpier check src tests bench' -- \
    src tests bench .csharpierrc.yaml .config
}
