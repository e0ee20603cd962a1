// Panels that are drawn from runs: curves, budgets, tables of numbers.
import { amount } from '../chart/numbers';
import { valueAt } from '../chart/marks';
import type { Curve, Run } from '../build/run';
import { number, type Explored, type PanelData, type Settings } from './data';
import { drawPlot, type Plot, type Series, type View } from './plot';

export interface KeptShown { id: string; name: string; colour: number; explored: Explored }

export type Compared = '' | 'difference' | 'ratio';

const unitOf = (curve: Curve, run: Run): string => curve.unit || (curve.kind === 'flow' ? `a ${run.per}` : '');

/** One name for what curves are counted in, or several with commas. */
const title = (curves: Curve[], run: Run): string => [...new Set(curves.map(curve => unitOf(curve, run)))].filter(Boolean).slice(0, 3).join(', ');

function formulas(explored: Explored, id: string, className: (k: number) => string, suffix: string): Series[] {
  return (explored.panels[id]?.formulas ?? []).flatMap((column, k) => (column.values.length ? [{ id: `formula ${k}${suffix}`, name: column.name + suffix, times: explored.run.times, values: column.values, className: className(k) }] : []));
}

export function curveSeries(explored: Explored, panel: string, settings: Settings, kept: KeptShown[], compared: Compared): Series[] {
  const run = explored.run, chosen = run.curves.filter(curve => settings.chosen.includes(curve.id));
  const many = kept.length > 0;
  // One run: colour stands for the curve. Several: colour stands for the run, and dashes tell the curves.
  const own: Series[] = chosen.map((curve, k) => ({ id: curve.id, name: curve.symbol, times: run.times, values: curve.values, className: many ? `c0 dash${k % 5}` : `c${curve.colour}${curve.kind === 'flow' ? ' dash1' : ''}`, second: settings.second.includes(curve.id) }));
  const made = formulas(explored, panel, k => (many ? `c0 dash${(chosen.length + k) % 5}` : `c${((chosen.length + k) % 10) + 1} dash2`), '');
  const others = kept.flatMap(other => {
    const theirs: Series[] = chosen.flatMap((curve, k) => {
      const same = other.explored.run.curves.find(candidate => candidate.id === curve.id);
      return same ? [{ id: `${other.id} ${curve.id}`, name: `${curve.symbol} · ${other.name}`, times: other.explored.run.times, values: same.values, className: `c${other.colour} dash${k % 5}`, second: settings.second.includes(curve.id) }] : [];
    });
    return [...theirs, ...formulas(other.explored, panel, k => `c${other.colour} dash${(chosen.length + k) % 5}`, ` · ${other.name}`)];
  });
  if (compared === '' || others.length === 0) return [...own, ...made, ...others];
  const base = new Map([...own, ...made].map(series => [series.name, series]));
  return others.flatMap(series => {
    const now = base.get(series.name.split(' · ')[0]!);
    if (!now) return [];
    const values = Array.from({ length: series.times.length }, (_, k) => {
      const mine = valueAt(now.times, now.values, series.times[k]!), theirs = series.values[k];
      if (mine === null || theirs == null) return null;
      return compared === 'difference' ? theirs - mine : mine === 0 ? null : theirs / mine;
    });
    return [{ ...series, values, second: false }];
  });
}

/** Whether what was observed has to do with a panel's curves, and lies below them. */
export function hasDataBelow({ run }: Explored, settings: Settings): boolean {
  return settings.withData && (run.observed?.points.length ?? 0) > 0 && settings.chosen.some(id => run.observed!.about.includes(id));
}

export function drawCurves(place: HTMLElement, words: HTMLElement, explored: Explored, panel: string, settings: Settings, view: View, kept: KeptShown[], compared: Compared, redraw: () => void, size: { width: number; height: number }): void {
  const run = explored.run;
  const chosen = run.curves.filter(curve => settings.chosen.includes(curve.id));
  const lost = settings.chosen.filter(id => !run.curves.some(curve => curve.id === id)).length;
  const problems = (explored.panels[panel]?.formulas ?? []).filter(column => column.problem).map(column => `${column.name}: ${column.problem}`);
  words.textContent = [...problems, lost ? `${lost} of its curves ${lost === 1 ? 'is' : 'are'} no longer in the model.` : ''].filter(Boolean).join(' ');
  const plain = settings.shape === 'Lines' && compared === '';
  // Observed counts lie beside what is counted, never on people's axis.
  const plot: Plot = {
    series: curveSeries(explored, panel, settings, kept, compared), xName: run.unit, xUnit: `${run.unit}s`, label: 'Curves over time', log: settings.log && compared === '',
    yTitle: compared === 'ratio' ? 'ratio to now' : compared === 'difference' ? 'difference from now' : title(chosen.filter(curve => !settings.second.includes(curve.id)), run), secondTitle: title(chosen.filter(curve => settings.second.includes(curve.id)), run),
    shape: plain || kept.length || compared ? (settings.shape === 'Sum' && !compared ? 'Sum' : 'Lines') : settings.shape,
  };
  const minimum = number(settings.minimum), maximum = number(settings.maximum);
  if (minimum !== undefined) plot.minimum = minimum;
  if (maximum !== undefined) plot.maximum = maximum;
  const observed = run.observed;
  // Counts by the interval lie below the curves they have to do with, on an axis of their own and the same stretch of time.
  if (!observed || !hasDataBelow(explored, settings)) {
    drawPlot(place, plot, view, redraw, size);
    return;
  }
  const [above, below] = parts(place, 2), share = Math.round(0.62 * size.height);
  drawPlot(above!, plot, view, redraw, { ...size, height: share });
  if (observed.problem) words.textContent = `${words.textContent} ${observed.problem}`.trim();
  drawPlot(below!, { ...observedPlot(explored), domain: [run.start, run.end] }, view, redraw, { ...size, height: size.height - share });
}

/** A place for each of several charts, one above the other. */
export function parts(place: HTMLElement, count: number): HTMLElement[] {
  const boxes = Array.from({ length: count }, () => {
    const box = document.createElement('div');
    box.className = 'panel-part';
    return box;
  });
  place.replaceChildren(...boxes);
  return boxes;
}

function observedPlot({ run }: Explored): Plot {
  const observed = run.observed!;
  return {
    series: [{ id: 'expected', name: 'expected', times: observed.times, values: observed.expected, className: 'c0' }], points: observed.points.map(point => ({ time: point.end, value: point.value })),
    xName: run.unit, xUnit: `${run.unit}s`, yTitle: `${observed.label} in ${amount(observed.interval)} ${run.unit}s`, label: `${observed.label}: observed and expected`,
  };
}

export function drawBudget(place: HTMLElement, words: HTMLElement, explored: Explored, panel: string, view: View, redraw: () => void, size: { width: number; height: number }): void {
  const data = explored.panels[panel], run = explored.run;
  if (!data?.terms) {
    place.replaceChildren();
    words.textContent = data?.problem ?? '';
    return;
  }
  const series: Series[] = data.terms.map((term, k) => ({ id: term.id, name: term.name, times: run.times, values: term.values, className: `c${term.colour || (k % 10) + 1}` }));
  const all = data.turns?.map(turn => turn.words).join(' ') ?? '';
  words.textContent = all;
  drawPlot(place, {
    series, xName: run.unit, xUnit: `${run.unit}s`, yTitle: `into and out of ${data.symbol} a ${run.per}`, label: `Inflows and outflows of ${data.symbol}`, shape: 'Stacked',
    seen: time => { words.textContent = time === null ? all : atCursor(data, run, time); },
  }, view, redraw, size, true);
}

/** What moves an amount at a time, the strongest first, and what turned it last. */
function atCursor(data: PanelData, run: Run, time: number): string {
  const terms = data.terms!.map(term => ({ name: term.name, value: valueAt(run.times, term.values, time) ?? 0 })).filter(term => term.value !== 0).sort((a, b) => Math.abs(b.value) - Math.abs(a.value));
  const net = terms.reduce((sum, term) => sum + term.value, 0), most = Math.abs(terms[0]?.value ?? 0);
  const way = Math.abs(net) <= 1e-6 * most || terms.length === 0 ? 'stands still' : `${net > 0 ? 'rises' : 'falls'} by ${amount(Math.abs(net))} a ${run.per}`;
  const moved = terms.slice(0, 4).map(term => `${term.name} ${term.value > 0 ? 'brings' : 'takes'} ${amount(Math.abs(term.value))}`).join(', ');
  const turned = data.turns?.filter(turn => turn.time <= time).at(-1)?.words;
  return `At ${run.unit} ${amount(time)} ${data.symbol} ${way}${moved ? `: ${moved}` : ''}.${turned ? ` ${turned}` : ' It has not turned before.'}`;
}

/** Observed counts and what the model expects of each interval, kept runs beside it: on an axis of their own, since they are counted by the interval. */
export function drawObserved(place: HTMLElement, words: HTMLElement, explored: Explored, view: View, redraw: () => void, size: { width: number; height: number }): void {
  const { run } = explored, observed = run.observed;
  words.textContent = observed ? observed.problem ?? '' : 'There are no data on this model yet. Bring them under Data.';
  if (!observed) {
    place.replaceChildren();
    return;
  }
  drawPlot(place, observedPlot(explored), view, redraw, size);
}

const mostRows = 500;

type Cell = string | number | null;

const said = (value: Cell, digits: number): string => (typeof value === 'string' ? value : value === null || !Number.isFinite(value) ? '—' : String(Number(value.toPrecision(digits))).replace('-', '−'));

/** Numbers as a table, the first column as it is said, the others in so many digits. */
export function drawRows(place: HTMLElement, heads: string[], rows: Cell[][], digits: number): void {
  const table = document.createElement('table'), head = table.createTHead().insertRow(), body = table.createTBody();
  table.className = 'numbers';
  for (const name of heads) {
    const cell = document.createElement('th');
    cell.scope = 'col';
    cell.textContent = name;
    head.append(cell);
  }
  for (const values of rows.slice(0, mostRows)) {
    const row = body.insertRow();
    values.forEach((value, k) => { row.insertCell().textContent = k === 0 && typeof value === 'number' ? amount(value) : said(value, digits); });
  }
  place.replaceChildren(table);
  if (rows.length > mostRows) place.append(`${rows.length - mostRows} more rows are in the files.`);
}

export const digitsOf = (settings: Settings): number => Math.min(17, Math.max(1, Number(settings.digits) || 6));

/** Numbers downwards by time, in thin spaces and so many digits. */
export function drawTable(place: HTMLElement, explored: Explored, panel: string, settings: Settings): void {
  const run = explored.run, every = number(settings.every), data = explored.panels[panel];
  const columns: { name: string; values: ArrayLike<number | null> }[] = data?.terms ?? [...run.curves.filter(curve => settings.chosen.includes(curve.id)).map(curve => ({ name: curve.symbol, values: curve.values })), ...(data?.formulas ?? []).filter(column => column.values.length)];
  const times = every && every > 0 && (run.end - run.start) / every <= mostRows ? Array.from({ length: Math.floor((run.end - run.start) / every + 1e-9) + 1 }, (_, k) => run.start + k * every) : Array.from(run.times);
  drawRows(place, [run.unit, ...columns.map(column => column.name)], times.map(time => [time, ...columns.map(column => valueAt(run.times, column.values, time))]), digitsOf(settings));
}

/** Observed counts with what was expected of each. */
export function drawObservedTable(place: HTMLElement, explored: Explored, settings: Settings): void {
  const observed = explored.run.observed;
  if (observed) drawRows(place, [`until ${explored.run.unit}`, 'observed', 'expected'], observed.points.map(point => [point.end, point.value, valueAt(observed.times, observed.expected, point.end)]), digitsOf(settings));
}
