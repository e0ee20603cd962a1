// Ends the server without warning, again and again, in the middle of edits, imports, fits and projections, and holds what is there
// afterwards against what it had acknowledged.
import { Visitor } from './visitor.mjs';

const value = text => /0\.\d{6} per day/.exec(text)?.[0];

/** Works until the server is gone; notes what was acknowledged. */
async function work(visitor, notes, random) {
  for (let n = 0; ; n++) {
    const kind = random();
    if (kind < 0.7) {
      notes.asked = `0.${String(Math.floor(random() * 1e6)).padStart(6, '0')} per day`;
      const { status } = await visitor.post('build', 'Field', { partId: 'v13', field: 'Text', value: notes.asked });
      if (status === 200) notes.had = notes.asked;
    } else if (kind < 0.85) {
      const brought = await visitor.again();
      if (brought.study) notes.imports.push(brought.study);
    } else if (kind < 0.93)
      await visitor.post('fit', 'Start', { address: 'beta', tick: 'beta', lower: '0.05', upper: '2', law: 'Poisson' });
    else await visitor.post('projections', 'Start', { replicates: '50', seed: '1' });
  }
}

/** @returns {Promise<{ lost: string[], imports: number }>} what was acknowledged and is not there, and what is there by half */
export async function kills(server, count, seed = 18) {
  const lost = [];
  let state = seed >>> 0,
    imports = 0;
  const random = () => (state = (Math.imul(state, 1664525) + 1013904223) >>> 0) / 2 ** 32;
  await server.start();
  const visitor = await new Visitor(server).begin();
  const notes = { had: value((await visitor.ask(`${visitor.study}/export`)).text), asked: null, imports: [] };
  for (let k = 0; k < count; k++) {
    const working = work(visitor, notes, random).catch(() => {});
    await new Promise(resolve => setTimeout(resolve, 150 + 900 * random()));
    await server.kill();
    await working;
    await server.start();
    const exported = await visitor.ask(`${visitor.study}/export`),
      is = value(exported.text);
    // An edit that was under way may have been written or not; one that was acknowledged is there.
    if (exported.status !== 200 || (is !== notes.had && is !== notes.asked))
      lost.push(`kill ${k}: ${exported.status}, the study has ${is}, acknowledged was ${notes.had}`);
    notes.had = is;
    const shelf = await visitor.ask('/'),
      shown = new Set([...shelf.text.matchAll(/\/studies\/[0-9a-f]+(?=\/build)/g)].map(found => found[0]));
    for (const study of notes.imports) if (!shown.has(study)) lost.push(`kill ${k}: the import ${study} is gone`);
    for (const study of [...shown].slice(0, 3)) {
      const { text } = await visitor.ask(`${study}/export`);
      if (text.includes('"observations"') && !text.includes('"dataSets": [\n    {'))
        lost.push(`kill ${k}: ${study} stands without its data`);
    }
    imports += notes.imports.length;
    notes.imports = [];
    await visitor.ask(`${visitor.study}/build`);
  }
  return { lost, imports };
}
