// What an outcome depends on: bars of one value at a time, of shares of the variance, of ranks.
import { amount } from '../chart/numbers';
import { svg } from '../chart/svg';

interface Bar {
  name: string;
  low: number;
  high: number;
  atLow: number | null;
  atHigh: number | null;
}

interface Index {
  alone: number;
  aloneLow: number;
  aloneHigh: number;
  inAll: number;
  inAllLow: number;
  inAllHigh: number;
}

export interface Sensitivity {
  title: string;
  problem?: string | null;
  now?: number | null;
  bars?: Bar[];
  ranks?: { name: string; value: number }[];
  sobol?: { name: string; index: Index }[];
  runs?: number;
  failed?: number;
}

/** Bars from a middle line, the name before each and its numbers behind it. */
export function drawSensitivity(place: HTMLElement, words: HTMLElement, found: Sensitivity, size: { width: number; height: number }): void {
  place.replaceChildren();
  words.textContent =
    found.problem ??
    (found.bars
      ? `Now ${amount(found.now)}. Each value alone goes to either end of its range.`
      : found.sobol
        ? `${found.runs} runs${found.failed ? `, of which ${found.failed} failed` : ''}. Dark: what a value does by itself; light: with all it acts together with; whiskers hold 95 %.`
        : found.ranks
          ? `${found.runs} runs. Near 1 the outcome rises with the value, near −1 it falls.`
          : '');
  const rows = found.bars ?? found.ranks ?? found.sobol;
  if (!rows || found.problem) return;
  const shown = rows.slice(0, 16),
    tall = 22,
    height = Math.max(size.height, 30 + tall * shown.length),
    left = 120,
    right = size.width - 110;
  const ends = found.bars
    ? found.bars.flatMap(bar => [bar.atLow, bar.atHigh, found.now ?? null]).filter((value): value is number => value !== null)
    : found.ranks
      ? [-1, 1]
      : [0, ...found.sobol!.flatMap(bar => [bar.index.inAllHigh, 1])];
  const low = Math.min(...ends),
    high = Math.max(...ends),
    x = (value: number): number => left + ((right - left) * (value - low)) / (high - low || 1);
  const middle = found.bars ? (found.now ?? low) : 0;
  const root = svg('svg', {
    width: size.width,
    height,
    viewBox: `0 0 ${size.width} ${height}`,
    role: 'img',
    'aria-label': found.title,
    class: 'chart-svg block max-w-full select-none bars',
  });
  root.append(svg('text', { x: right, y: 14, 'text-anchor': 'end', class: 'y-title text-xs' }, found.title));
  const bar = (from: number, to: number, y: number, thick: number, className: string): SVGRectElement =>
    svg('rect', {
      x: Math.min(x(from), x(to)),
      y: y - thick / 2,
      width: Math.max(1, Math.abs(x(to) - x(from))),
      height: thick,
      class: className,
    });
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
      root.append(
        bar(0, Math.max(0, index.inAll), y, 14, 'bar at-low'),
        bar(0, Math.max(0, index.alone), y, 8, 'bar at-high'),
        svg('path', { d: `M${x(index.inAllLow)} ${y}H${x(index.inAllHigh)}`, class: 'whisker' }),
      );
      said = `${index.alone.toFixed(2).replace('-', '−')}, ${index.inAll.toFixed(2)}`;
    }
    root.append(svg('text', { x: right + 8, y: y + 4 }, said));
  });
  root.append(svg('path', { d: `M${x(middle)} 22V${height - 6}`, class: 'middle' }));
  place.append(root);
}

/** What a sensitivity found, as rows. */
export function sensitivityRows(found: Sensitivity): { heads: string[]; rows: (string | number | null)[][] } {
  if (found.bars)
    return {
      heads: ['value', 'from', 'to', 'outcome there', 'and there'],
      rows: found.bars.map(bar => [bar.name, bar.low, bar.high, bar.atLow, bar.atHigh]),
    };
  if (found.ranks) return { heads: ['value', 'partial rank correlation'], rows: found.ranks.map(bar => [bar.name, bar.value]) };
  return {
    heads: ['value', 'alone', 'from', 'to', 'with all', 'from', 'to'],
    rows: (found.sobol ?? []).map(({ name, index }) => [
      name,
      index.alone,
      index.aloneLow,
      index.aloneHigh,
      index.inAll,
      index.inAllLow,
      index.inAllHigh,
    ]),
  };
}
