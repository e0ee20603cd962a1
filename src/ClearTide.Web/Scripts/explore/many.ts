// Work of many runs on the server: asked for, followed as it goes on, stopped, and drawn.
import { amount } from '../chart/numbers';
import { svg } from '../chart/svg';
import { parts } from './curves';
import { drawPlot, View, type Plot, type Series } from './plot';
import type { Settings } from './data';

interface Sweep { title: string; first: number[]; second: number[] | null; times: number[] | null; outcomes: (number | null)[]; curves: { value: number; values: (number | null)[] }[] | null; bands: { levels: number[]; lines: (number | null)[][] } | null; failed: number; failure: string | null; problem?: string }

interface Bar { name: string; low: number; high: number; atLow: number | null; atHigh: number | null }

interface Index { alone: number; aloneLow: number; aloneHigh: number; inAll: number; inAllLow: number; inAllHigh: number }

interface Sensitivity { title: string; problem?: string | null; now?: number | null; bars?: Bar[]; ranks?: { name: string; value: number }[]; sobol?: { name: string; index: Index }[]; runs?: number; failed?: number }

/** Colours of one scale, from the first value to the last. */
const shades = 10;

export const shade = (k: number, count: number): string => `sweep${Math.min(shades - 1, Math.floor((shades * k) / Math.max(1, count - 1)))}`;

/** Reads an answer line by line: how far the work is, then what came of it. */
export async function follow<T>(address: string, signal: AbortSignal, progress: (percent: number) => void): Promise<T | null> {
  const answer = await fetch(address, { signal });
  if (!answer.ok || !answer.body) throw new Error(String(answer.status));
  const reader = answer.body.pipeThrough(new TextDecoderStream()).getReader();
  let text = '', last: T | null = null;
  for (;;) {
    const { done, value } = await reader.read();
    text += value ?? '';
    const lines = text.split('\n');
    text = lines.pop() ?? '';
    for (const line of lines.filter(Boolean)) {
      const said = JSON.parse(line) as T & { percent?: number };
      if (said.percent !== undefined) progress(said.percent); else last = said;
    }
    if (done) return last;
  }
}

export function drawSweep(place: HTMLElement, words: HTMLElement, sweep: Sweep, settings: Settings, view: View, redraw: () => void, unit: string, size: { width: number; height: number }): void {
  place.replaceChildren();
  words.textContent = sweep.problem ?? (sweep.failed ? `${sweep.failed} of ${sweep.outcomes.length} runs failed and are left out. ${sweep.failure ?? ''}` : '');
  if (sweep.problem) return;
  if (sweep.second) {
    drawMap(place, sweep, settings, size);
    return;
  }
  const count = sweep.first.length, family = sweep.times !== null && (sweep.bands !== null || (sweep.curves?.length ?? 0) > 1);
  const [above, below] = parts(place, family ? 2 : 1), upper = family ? Math.round(0.56 * size.height) : 0;
  const outcomes = family ? below! : above!;
  if (family && sweep.bands) {
    drawPlot(above!, bandsPlot(sweep, settings, unit), view, redraw, { ...size, height: upper });
  } else if (family && sweep.curves && sweep.times) {
    const times = sweep.times, curves = sweep.curves;
    const named = new Set([0, Math.floor((curves.length - 1) / 2), curves.length - 1]);
    const series: Series[] = curves.map((curve, k) => ({ id: String(k), name: `${settings.value} ${amount(curve.value)}`, times, values: curve.values, className: shade(k, curves.length), behind: false }));
    drawPlot(above!, { series: series.map((one, k) => (named.has(k) ? one : { ...one, behind: true })), xName: unit, xUnit: `${unit}s`, yTitle: settings.x, label: `${settings.x} for ${count} values of ${settings.value}` }, view, redraw, { ...size, height: upper });
  }
  drawPlot(outcomes, { series: [{ id: 'outcome', name: '', times: sweep.first, values: sweep.outcomes, className: 'c0' }], xName: settings.value, xUnit: settings.value, yTitle: sweep.title, label: `${sweep.title} against ${settings.value}`, ...(count <= 60 ? { points: sweep.first.flatMap((value, k) => (sweep.outcomes[k] == null ? [] : [{ time: value, value: sweep.outcomes[k]! }])) } : {}) }, new View(), redraw, { ...size, height: size.height - upper });
}

/** The family as bands: all of it, the middle eight tenths, the middle half, and the median. */
function bandsPlot(sweep: Sweep, settings: Settings, unit: string): Plot {
  const { levels, lines } = sweep.bands!, times = sweep.times!, filled = (line: (number | null)[]): number[] => line.map(value => value ?? 0);
  const middle = Math.floor(levels.length / 2), percent = (level: number): string => `${Math.round(100 * level)} %`;
  const bands = Array.from({ length: middle }, (_, k) => ({ times, low: filled(lines[k]!), high: filled(lines[levels.length - 1 - k]!), className: `family-band band${k}` }));
  const series: Series[] = lines.map((values, k) => ({ id: String(k), name: k === middle ? 'median' : k === 0 ? 'least' : k === levels.length - 1 ? 'greatest' : percent(levels[k]!), times, values, className: k === middle ? 'c0' : 'edge', behind: k !== middle }));
  return { series, bands, xName: unit, xUnit: `${unit}s`, yTitle: settings.x, label: `${settings.x} for ${sweep.first.length} values of ${settings.value}, as bands` };
}

/** The outcomes as rows: by the value, or by both. */
export function sweepRows(sweep: Sweep, settings: Settings): { heads: string[]; rows: (number | null)[][] } {
  const { first, second } = sweep;
  return {
    heads: [settings.value, ...(second ? [settings.second2] : []), sweep.title],
    rows: sweep.outcomes.map((outcome, k) => [first[k % first.length]!, ...(second ? [second[Math.floor(k / first.length)]!] : []), outcome]),
  };
}

/** What a sensitivity found, as rows. */
export function sensitivityRows(found: Sensitivity): { heads: string[]; rows: (string | number | null)[][] } {
  if (found.bars) return { heads: ['value', 'from', 'to', 'outcome there', 'and there'], rows: found.bars.map(bar => [bar.name, bar.low, bar.high, bar.atLow, bar.atHigh]) };
  if (found.ranks) return { heads: ['value', 'partial rank correlation'], rows: found.ranks.map(bar => [bar.name, bar.value]) };
  return { heads: ['value', 'alone', 'from', 'to', 'with all', 'from', 'to'], rows: (found.sobol ?? []).map(({ name, index }) => [name, index.alone, index.aloneLow, index.aloneHigh, index.inAll, index.inAllLow, index.inAllHigh]) };
}

function drawMap(place: HTMLElement, sweep: Sweep, settings: Settings, size: { width: number; height: number }): void {
  const first = sweep.first, second = sweep.second!, known = sweep.outcomes.filter((value): value is number => value !== null);
  const low = Math.min(...known), high = Math.max(...known), left = 70, top = 22, right = size.width - 96, bottom = size.height - 34;
  const wide = (right - left) / first.length, tall = (bottom - top) / second.length;
  const root = svg('svg', { width: size.width, height: size.height, viewBox: `0 0 ${size.width} ${size.height}`, role: 'img', 'aria-label': `${sweep.title} over ${settings.value} and ${settings.second2}`, class: 'chart-svg map' });
  sweep.outcomes.forEach((value, k) => {
    const i = k % first.length, j = Math.floor(k / first.length);
    root.append(svg('rect', { x: left + i * wide, y: bottom - (j + 1) * tall, width: wide + 0.4, height: tall + 0.4, class: value === null ? 'failed' : shade(high > low ? ((value - low) / (high - low)) * 99 : 0, 100) },
      svg('title', {}, `${settings.value} ${amount(first[i])}, ${settings.second2} ${amount(second[j])}: ${amount(value)}`)));
  });
  const label = (x: number, y: number, text: string, anchor: string): void => { root.append(svg('text', { x, y, 'text-anchor': anchor }, text)); };
  for (const k of new Set([0, Math.floor((first.length - 1) / 2), first.length - 1])) label(left + (k + 0.5) * wide, bottom + 15, amount(first[k]), 'middle');
  for (const k of new Set([0, Math.floor((second.length - 1) / 2), second.length - 1])) label(left - 6, bottom - (k + 0.5) * tall + 4, amount(second[k]), 'end');
  label(right, bottom + 30, settings.value, 'end');
  label(left - 6, top - 8, settings.second2, 'end');
  label(right, top - 8, sweep.title, 'end');
  for (let k = 0; k < shades; k++) root.append(svg('rect', { x: right + 12, y: bottom - ((k + 1) * (bottom - top)) / shades, width: 12, height: (bottom - top) / shades + 0.4, class: `sweep${k}` }));
  label(right + 28, bottom, amount(low), 'start');
  label(right + 28, top + 10, amount(high), 'start');
  place.append(root);
}

/** Bars from a middle line, the name before each and its numbers behind it. */
export function drawSensitivity(place: HTMLElement, words: HTMLElement, found: Sensitivity, size: { width: number; height: number }): void {
  place.replaceChildren();
  words.textContent = found.problem ?? (found.bars ? `Now ${amount(found.now)}. Each value alone goes to either end of its range.` : found.sobol ? `${found.runs} runs${found.failed ? `, of which ${found.failed} failed` : ''}. Dark: what a value does by itself; light: with all it acts together with; whiskers hold 95 %.` : found.ranks ? `${found.runs} runs. Near 1 the outcome rises with the value, near −1 it falls.` : '');
  const rows = found.bars ?? found.ranks ?? found.sobol;
  if (!rows || found.problem) return;
  const shown = rows.slice(0, 16), tall = 22, height = Math.max(size.height, 30 + tall * shown.length), left = 120, right = size.width - 110;
  const ends = found.bars ? found.bars.flatMap(bar => [bar.atLow, bar.atHigh, found.now ?? null]).filter((value): value is number => value !== null) : found.ranks ? [-1, 1] : [0, ...found.sobol!.flatMap(bar => [bar.index.inAllHigh, 1])];
  const low = Math.min(...ends), high = Math.max(...ends), x = (value: number): number => left + ((right - left) * (value - low)) / (high - low || 1);
  const middle = found.bars ? found.now ?? low : 0;
  const root = svg('svg', { width: size.width, height, viewBox: `0 0 ${size.width} ${height}`, role: 'img', 'aria-label': found.title, class: 'chart-svg bars' });
  root.append(svg('text', { x: right, y: 14, 'text-anchor': 'end', class: 'y-title' }, found.title));
  const bar = (from: number, to: number, y: number, thick: number, className: string): SVGRectElement => svg('rect', { x: Math.min(x(from), x(to)), y: y - thick / 2, width: Math.max(1, Math.abs(x(to) - x(from))), height: thick, class: className });
  shown.forEach((row, k) => {
    const y = 34 + tall * k;
    root.append(svg('text', { x: left - 8, y: y + 4, 'text-anchor': 'end' }, row.name));
    let said = '';
    if (found.bars) {
      const { atLow, atHigh, low: from, high: to } = row as Bar;
      if (atLow !== null) root.append(bar(middle, atLow, y, 12, 'bar at-low'));
      if (atHigh !== null) root.append(bar(middle, atHigh, y, 12, 'bar at-high'));
      said = `${amount(atLow)} to ${amount(atHigh)}`;
      root.append(svg('title', {}, `${row.name} from ${amount(from)} to ${amount(to)}`));
    } else if (found.ranks) {
      const { value } = row as { value: number };
      root.append(bar(0, value, y, 12, 'bar at-high'));
      said = value.toFixed(2).replace('-', '−');
    } else {
      const { index } = row as { index: Index };
      root.append(bar(0, Math.max(0, index.inAll), y, 14, 'bar at-low'), bar(0, Math.max(0, index.alone), y, 8, 'bar at-high'), svg('path', { d: `M${x(index.inAllLow)} ${y}H${x(index.inAllHigh)}`, class: 'whisker' }));
      said = `${index.alone.toFixed(2).replace('-', '−')}, ${index.inAll.toFixed(2)}`;
    }
    root.append(svg('text', { x: right + 8, y: y + 4 }, said));
  });
  root.append(svg('path', { d: `M${x(middle)} 22V${height - 6}`, class: 'middle' }));
  place.append(root);
}

export type { Sweep, Sensitivity };
