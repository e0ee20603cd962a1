// Starts the built application on a free port with a data folder of its own; ends it by its process.
import { spawn } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';

export const root = resolve(import.meta.dirname, '../../..');

export class Server {
  #process;
  folder = mkdtempSync(join(tmpdir(), 'clear-tide-'));
  url = '';

  /** @param {object} environment variables that it starts with, besides those of the tests */
  constructor(environment = {}) {
    this.environment = environment;
  }

  /** @param {number} port the port to listen on, or 0 for any free one */
  async start(port = 0) {
    const web = join(root, 'src/ClearTide.Web');
    this.#process = spawn(
      'dotnet',
      [
        join(web, 'bin/Release/net10.0/ClearTide.Web.dll'),
        '--contentRoot',
        web,
        '--urls',
        `http://127.0.0.1:${port}`,
        '--DataFolder',
        this.folder,
      ],
      { env: { ...process.env, Serilog__MinimumLevel: 'Warning', DOTNET_GCgen0size: '0x4000000', ...this.environment } },
    );
    let said = '';
    this.url = await new Promise((found, failed) => {
      this.#process.stderr.on('data', piece => {
        said += piece;
      });
      this.#process.stdout.on('data', piece => {
        said += piece;
        const address = /Clear Tide runs at (\S+)/.exec(said);
        if (address) found(address[1].replace(/,$/, ''));
      });
      this.#process.once('exit', code => failed(Object.assign(new Error(`The server ended with ${code}: ${said}`), { code, said })));
    });
  }

  get port() {
    return Number(new URL(this.url).port);
  }

  get pid() {
    return this.#process.pid;
  }

  /** Kills the process without warning, as a power cut would. */
  async kill() {
    const process = this.#process;
    if (!process || process.exitCode !== null || process.signalCode !== null) return;
    const gone = new Promise(done => process.once('exit', done));
    process.kill('SIGKILL');
    await gone;
  }

  async end() {
    await this.kill();
    rmSync(this.folder, { recursive: true, force: true });
  }
}

/** The server that runs for all test files together, where there is one; it is neither started nor ended by a test. */
export class SharedServer {
  /** Its address, or undefined where each file starts a server of its own. */
  static address = process.env.CLEAR_TIDE_TEST_SERVER;

  folder = mkdtempSync(join(tmpdir(), 'clear-tide-'));
  url = SharedServer.address;

  async start() {}

  async end() {
    rmSync(this.folder, { recursive: true, force: true });
  }
}
