// Every string that the screens show, page by page, to be read at once: node build/words.mjs [PAGE]
// A page's strings are those of its markup, of the parts that it includes, of its model, and of the words that these call.
import { readFileSync, readdirSync } from 'node:fs';
import { basename, dirname, join, relative } from 'node:path';

const web = join(import.meta.dirname, '..', 'src', 'ClearTide.Web');
const files = readdirSync(web, { recursive: true, withFileTypes: true })
  .filter(entry => entry.isFile() && /\.(cshtml|cs|ts)$/.test(entry.name))
  .map(entry => join(entry.parentPath, entry.name))
  .filter(file => !/\/(bin|obj|node_modules|wwwroot)\//.test(file));
const text = new Map(files.map(file => [file, readFileSync(file, 'utf8')]));
const named = suffix => new Map(files.filter(file => file.endsWith(suffix)).map(file => [basename(file, suffix), file]));
const [markup, code] = [named('.cshtml'), named('.cs')];

/** Attributes that people read or hear. */
const spoken = /\b(?:title|placeholder|aria-label|alt|words|hint|spoken|label|help|of)="([^"]*[a-z]{3}[^"]*)"/g;

function ofMarkup(source) {
  const plain = source.replace(/@\*[\s\S]*?\*@/g, '').replace(/@\{[\s\S]*?\n\}/g, '');
  const between = [...plain.matchAll(/>([^<>{}]*[a-zA-Z]{2}[^<>{}]*)</g)].map(found => found[1]);
  return [...between, ...[...plain.matchAll(spoken)].map(found => found[1])];
}

/** Sentences and words in code: what holds a blank between letters, or begins with a capital and is no name of code. */
function ofCode(source) {
  const plain = source.replace(/^\s*\/\/.*$/gm, '');
  return [...plain.matchAll(/"((?:[^"\\\n]|\\.)*)"|'((?:[^'\\\n]|\\.)*)'|`((?:[^`\\]|\\.)*)`/g)]
    .map(found => found[1] ?? found[2] ?? found[3])
    .filter(words => /[a-z]{2,}[,.:]? [a-z“{$(]/.test(words) && !/^[\w-]+(:[\w-]+)? |hx-|\[&|\/\/|=>|\bvar\(--/.test(words.replace(/^[A-Z“]?[a-z]+ [a-z]+/, '')));
}

/** What a page is made of: itself, its model, what it includes, and the words of these. */
function partsOf(page) {
  const found = new Set(),
    open = [page];
  while (open.length) {
    const file = open.pop();
    if (!file || found.has(file)) continue;
    found.add(file);
    const source = text.get(file);
    if (file.endsWith('.cshtml')) {
      open.push(text.has(`${file}.cs`) ? `${file}.cs` : undefined);
      for (const [, name] of source.matchAll(/(?:partial name=|PartialAsync\(|Partial\()"([^"]+)"/g)) open.push(markup.get(basename(name)));
      open.push(...files.filter(other => dirname(other) === dirname(file) && basename(other).startsWith(`${basename(file, '.cshtml')}.`)));
    }
    for (const [, name] of source.matchAll(/\b(\w+(?:Words|Text|Examples))\.\w/g)) open.push(code.get(name));
  }
  return [...found].sort();
}

const [, , only] = process.argv;
const pages = files.filter(file => file.endsWith('.cshtml') && text.get(file).startsWith('@page'));
const told = new Set();
for (const page of pages.sort()) {
  const title = relative(join(web, 'Pages'), page).replace('.cshtml', '');
  if (only && !title.endsWith(only)) continue;
  console.log(`\n# ${title}`);
  for (const file of partsOf(page)) {
    const strings = new Set(
      (file.endsWith('.cshtml') ? ofMarkup(text.get(file)) : ofCode(text.get(file))).map(words => words.replace(/\s+/g, ' ').trim()).filter(Boolean),
    );
    if (strings.size === 0) continue;
    if (told.has(file)) {
      console.log(`\n${relative(web, file)}: above`);
      continue;
    }
    told.add(file);
    console.log(`\n${relative(web, file)}`);
    for (const words of strings) console.log(`  ${words}`);
  }
}
if (!only) {
  console.log('\n# What scripts say');
  for (const file of files.filter(file => file.endsWith('.ts'))) {
    const strings = new Set(ofCode(text.get(file)));
    if (strings.size) console.log(`\n${relative(web, file)}\n${[...strings].map(words => `  ${words}`).join('\n')}`);
  }
}
