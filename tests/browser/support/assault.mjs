// Sends hostile requests one after the other and keeps what went wrong: answers that are faults of the server, and those that came late.
import { Hostile } from './hostile.mjs';
import { Visitor } from './visitor.mjs';

/** So many requests go to one study before a new one takes its place. */
const each = 150;

/** @returns {Promise<{ faults: string[], slow: string[], slowest: number }>} slow are those over two seconds */
export async function assault(server, seed, count) {
  const faults = [],
    slow = [];
  let slowest = 0,
    visitor = await new Visitor(server).begin();
  const hostile = new Hostile(seed, (await visitor.ask(`${visitor.study}/files?handler=Sbml`)).text);
  const told = (answer, what) => {
    const words = `${answer.status} after ${Math.round(answer.took)} ms: ${what}`;
    // 503 says that something took too long and was stopped, which is slow and no fault.
    if (answer.status >= 500 && answer.status !== 503) faults.push(words);
    if (answer.took > 2000) slow.push(words);
    slowest = Math.max(slowest, answer.took);
  };
  for (let k = 0; k < count; k++) {
    if (k % each === each - 1) {
      for (const step of ['build', 'explore', 'data', 'fit', 'subjects', 'scenarios', 'projections', 'history', 'files', 'export'])
        told(await visitor.ask(`${visitor.study}/${step}`), `${step} after what was done to it (request ${k})`);
      told(await visitor.ask('/'), 'the shelf');
      visitor = await new Visitor(server).begin();
    }
    const { page, method, handler, fields, file } = hostile.request();
    const what = `request ${k}, ${method} ${page} ${handler} ${JSON.stringify(fields ?? file).slice(0, 400)}`;
    if (file) {
      const brought = await visitor.bring(file.name, file.text);
      told(brought, what);
      if (brought.study)
        for (const step of ['build', 'explore', 'fit']) told(await visitor.ask(`${brought.study}/${step}`), `${step} of ${what}`);
    } else if (method === 'POST') told(await visitor.post(page, handler, fields), what);
    else
      told(
        await visitor.ask(
          `${page.startsWith('/') ? page : `${visitor.study}/${page}`}?${new URLSearchParams({ handler, ...fields })}`.slice(0, 7000),
        ),
        what,
      );
  }
  return { faults, slow, slowest };
}
