// An outcome over many runs by chance: bars of how often it comes to what, and the share of runs up to each value.
import { frame } from '../chart/frame';
import { attachHover } from '../chart/hover';
import { amount } from '../chart/numbers';
import { svg } from '../chart/svg';

export interface ByChance {
  title: string;
  problem?: string | null;
  words?: string;
  limit?: number | null;
  bars?: { from: number; to: number; count: number }[];
  /** Values, each with the share of runs that come to it at most. */
  cumulative?: [number, number][];
}

export function drawByChance(place: HTMLElement, words: HTMLElement, found: ByChance, size: { width: number; height: number }): void {
  place.replaceChildren();
  words.textContent = found.problem ?? found.words ?? '';
  const { bars, cumulative, limit } = found;
  if (!bars?.length || !cumulative || found.problem) return;
  const left = Math.min(bars[0]!.from, limit ?? Infinity),
    right = Math.max(bars[bars.length - 1]!.to, limit ?? -Infinity),
    most = Math.max(...bars.map(bar => bar.count)),
    all = cumulative.length ? cumulative[cumulative.length - 1]![1] : 1;
  const at = frame({
    ...size,
    xDomain: [left, right],
    yMax: most,
    xUnit: '',
    yTitle: 'runs',
    label: `${found.title}: how often by chance`,
    second: { min: 0, max: 1, title: 'share up to' },
  });
  for (const bar of bars)
    at.plot.append(
      svg('rect', {
        x: at.x(bar.from) + 0.5,
        width: Math.max(1, at.x(bar.to) - at.x(bar.from) - 1),
        y: at.y(bar.count),
        height: Math.max(0, at.bottom - at.y(bar.count)),
        class: 'chance-bar fill-tide/45',
      }),
    );
  // The share jumps at each value and holds until the next.
  let line = `M${at.left} ${at.y2!(0)}`,
    before = 0;
  for (const [value, share] of cumulative) {
    line += `H${at.x(value)}V${at.y2!(share)}`;
    before = share;
  }
  at.plot.append(svg('path', { d: `${line}H${at.right}`, class: 'line stroke-ink stroke-[1.6] fill-none' }));
  if (limit != null) {
    const x = at.x(limit);
    at.plot.append(svg('line', { x1: x, x2: x, y1: at.top, y2: at.bottom, class: 'stroke-coral [stroke-dasharray:4_3]' }));
  }
  attachHover(
    at,
    value => `${found.title} ${amount(value)}`,
    value => {
      const bar = bars.find(one => value >= one.from && value < one.to),
        up = cumulative.reduce((share, one) => (one[0] <= value ? one[1] : share), 0);
      return [
        ...(bar ? [{ name: `${amount(bar.from)} to ${amount(bar.to)}`, value: `${bar.count} runs`, className: '' }] : []),
        { name: 'up to here', value: `${Math.round(100 * Math.min(up, all, before))} %`, className: '' },
      ];
    },
  );
  place.append(at.root);
}

/** The same as numbers. */
export const chanceRows = (found: ByChance): { heads: string[]; rows: (string | number | null)[][] } => ({
  heads: ['from', 'to', 'runs'],
  rows: (found.bars ?? []).map(bar => [bar.from, bar.to, bar.count]),
});
