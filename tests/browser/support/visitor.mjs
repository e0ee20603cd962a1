// Somebody who speaks to the server without a browser: cookies, tokens and versions are kept as a page would keep them.
import assert from 'node:assert/strict';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { root } from './server.mjs';

const demo = readFileSync(join(root, 'demo/marram-fever.study.json'), 'utf8');

export class Visitor {
  #server;
  #cookies = new Map();
  #token = '';
  #csrf = '';
  study = '';
  version = '1';

  constructor(server) {
    this.#server = server;
  }

  /** @returns {Promise<{ status: number, text: string, location: string | null, took: number }>} took is in milliseconds */
  async ask(address, options = {}) {
    const began = performance.now();
    const answer = await fetch(new URL(address, this.#server.url), { redirect: 'manual', ...options, headers: this.#headers() });
    for (const cookie of answer.headers.getSetCookie()) {
      const [name, value] = cookie.split(';')[0].split('=');
      this.#cookies.set(name, value);
    }
    const text = await answer.text();
    this.version = /id="version" name="version" value="(\d+)"/.exec(text)?.[1] ?? this.version;
    return { status: answer.status, text, location: answer.headers.get('location'), took: performance.now() - began };
  }

  #headers() {
    return {
      cookie: [...this.#cookies].map(([name, value]) => `${name}=${value}`).join('; '),
      'HX-Request': 'true',
      ...(this.#csrf ? { 'X-CSRF': this.#csrf } : {}),
    };
  }

  /** Where and with what a handler is posted to by whoever speaks to the server in another way. */
  posting(page, handler) {
    return { address: new URL(`${this.study}/${page}?handler=${handler}`, this.#server.url), headers: this.#headers() };
  }

  /** Imports a file from the shelf; the study that comes of it, or null. */
  async bring(name, text) {
    const body = new FormData();
    body.set('__RequestVerificationToken', this.#token);
    body.set('file', new Blob([text]), name);
    const answer = await this.ask('/?handler=Import', { method: 'POST', body });
    return { ...answer, study: answer.location?.replace(/\/build.*/, '') ?? null };
  }

  /** Another copy of the demo study beside the one that is worked on. */
  again() {
    return this.bring('demo.study.json', demo);
  }

  /** A copy of the demo study to work on. */
  async begin() {
    const shelf = await this.ask('/');
    this.#token = /name="__RequestVerificationToken"[^>]*value="([^"]+)"/.exec(shelf.text)[1];
    this.study = (await this.again()).study;
    const page = await this.ask(`${this.study}/build`);
    assert.equal(page.status, 200, 'the demo study is there');
    this.#csrf = /name="csrf" content="([^"]+)"/.exec(page.text)[1];
    return this;
  }

  /** Posts fields to a handler of a step of the study, or of another page. */
  post(page, handler, fields) {
    return this.ask(`${page.startsWith('/') ? page : `${this.study}/${page}`}?handler=${handler}`, {
      method: 'POST',
      body: new URLSearchParams({ version: this.version, ...fields }),
    });
  }
}
