// Sweeps: the family of curves, the outcome against the value, a map for two values.
import { amount } from '../chart/numbers';
import { svg } from '../chart/svg';
import type { Settings } from './data';
import { parts } from './parts';
import { drawPlot, View, type Plot, type Series } from './plot';
import { colourOf, shades } from './colours';

export interface Sweep {
  title: string;
  first: number[];
  second: number[] | null;
  times: number[] | null;
  outcomes: (number | null)[];
  curves: { value: number; values: (number | null)[] }[] | null;
  bands: { levels: number[]; lines: (number | null)[][] } | null;
  failed: number;
  failure: string | null;
  problem?: string;
}

export function drawSweep(
  place: HTMLElement,
  words: HTMLElement,
  sweep: Sweep,
  settings: Settings,
  view: View,
  redraw: () => void,
  unit: string,
  size: { width: number; height: number },
): void {
  place.replaceChildren();
  words.textContent =
    sweep.problem ??
    (sweep.failed ? `${sweep.failed} of ${sweep.outcomes.length} runs failed and are left out. ${sweep.failure ?? ''}` : '');
  if (sweep.problem) return;
  if (sweep.second) {
    drawMap(place, sweep, settings, size);
    return;
  }
  const count = sweep.first.length,
    family = sweep.times !== null && (sweep.bands !== null || (sweep.curves?.length ?? 0) > 1);
  const [above, below] = parts(place, family ? 2 : 1),
    upper = family ? Math.round(0.56 * size.height) : 0;
  const outcomes = family ? below! : above!;
  if (family && sweep.bands) {
    drawPlot(above!, bandsPlot(sweep, settings, unit), view, redraw, { ...size, height: upper });
  } else if (family && sweep.curves && sweep.times) {
    const times = sweep.times,
      curves = sweep.curves;
    const named = new Set([0, Math.floor((curves.length - 1) / 2), curves.length - 1]);
    const series: Series[] = curves.map((curve, k) => ({
      id: String(k),
      name: `${settings.value} ${amount(curve.value)}`,
      times,
      values: curve.values,
      className: colourOf(k, curves.length),
      behind: false,
    }));
    drawPlot(
      above!,
      {
        series: series.map((one, k) => (named.has(k) ? one : { ...one, behind: true })),
        xName: unit,
        xUnit: `${unit}s`,
        time: true,
        yTitle: settings.x,
        label: `${settings.x} for ${count} values of ${settings.value}`,
      },
      view,
      redraw,
      { ...size, height: upper },
    );
  }
  drawPlot(
    outcomes,
    {
      series: [{ id: 'outcome', name: '', times: sweep.first, values: sweep.outcomes, className: 'hue-c0' }],
      xName: settings.value,
      xUnit: settings.value,
      yTitle: sweep.title,
      label: `${sweep.title} against ${settings.value}`,
      ...(count <= 60
        ? { points: sweep.first.flatMap((value, k) => (sweep.outcomes[k] == null ? [] : [{ time: value, value: sweep.outcomes[k] }])) }
        : {}),
    },
    new View(),
    redraw,
    { ...size, height: size.height - upper },
  );
}

/** The family as bands: all of it, the middle eight tenths, the middle half, and the median. */
function bandsPlot(sweep: Sweep, settings: Settings, unit: string): Plot {
  const { levels, lines } = sweep.bands!,
    times = sweep.times!,
    filled = (line: (number | null)[]): number[] => line.map(value => value ?? 0);
  const middle = Math.floor(levels.length / 2),
    percent = (level: number): string => `${Math.round(100 * level)} %`;
  const bands = Array.from({ length: middle }, (_, k) => ({
    times,
    low: filled(lines[k]!),
    high: filled(lines[levels.length - 1 - k]!),
    className: `family-band fill-tide stroke-none ${['opacity-12', 'opacity-16', 'opacity-26'][k]}`,
  }));
  const series: Series[] = lines.map((values, k) => ({
    id: String(k),
    name: k === middle ? 'median' : k === 0 ? 'least' : k === levels.length - 1 ? 'greatest' : percent(levels[k]!),
    times,
    values,
    className: k === middle ? 'hue-c0' : 'edge',
    behind: k !== middle,
  }));
  return {
    series,
    bands,
    xName: unit,
    xUnit: `${unit}s`,
    time: true,
    yTitle: settings.x,
    label: `${settings.x} for ${sweep.first.length} values of ${settings.value}, as bands`,
  };
}

/** The outcomes as rows: by the value, or by both. */
export function sweepRows(sweep: Sweep, settings: Settings): { heads: string[]; rows: (number | null)[][] } {
  const { first, second } = sweep;
  return {
    heads: [settings.value, ...(second ? [settings.second2] : []), sweep.title],
    rows: sweep.outcomes.map((outcome, k) => [
      first[k % first.length]!,
      ...(second ? [second[Math.floor(k / first.length)]!] : []),
      outcome,
    ]),
  };
}

function drawMap(place: HTMLElement, sweep: Sweep, settings: Settings, size: { width: number; height: number }): void {
  const first = sweep.first,
    second = sweep.second!,
    known = sweep.outcomes.filter((value): value is number => value !== null);
  const low = Math.min(...known),
    high = Math.max(...known),
    left = 70,
    top = 22,
    right = size.width - 96,
    bottom = size.height - 34;
  const wide = (right - left) / first.length,
    tall = (bottom - top) / second.length;
  const root = svg('svg', {
    width: size.width,
    height: size.height,
    viewBox: `0 0 ${size.width} ${size.height}`,
    role: 'img',
    'aria-label': `${sweep.title} over ${settings.value} and ${settings.second2}`,
    class: 'chart-svg block max-w-full select-none map',
  });
  sweep.outcomes.forEach((value, k) => {
    const i = k % first.length,
      j = Math.floor(k / first.length);
    root.append(
      svg(
        'rect',
        {
          x: left + i * wide,
          y: bottom - (j + 1) * tall,
          width: wide + 0.4,
          height: tall + 0.4,
          class: value === null ? 'failed' : colourOf(high > low ? ((value - low) / (high - low)) * 99 : 0, 100),
        },
        svg('title', {}, `${settings.value} ${amount(first[i])}, ${settings.second2} ${amount(second[j])}: ${amount(value)}`),
      ),
    );
  });
  const label = (x: number, y: number, text: string, anchor: string): void => {
    root.append(svg('text', { x, y, 'text-anchor': anchor }, text));
  };
  for (const k of new Set([0, Math.floor((first.length - 1) / 2), first.length - 1]))
    label(left + (k + 0.5) * wide, bottom + 15, amount(first[k]), 'middle');
  for (const k of new Set([0, Math.floor((second.length - 1) / 2), second.length - 1]))
    label(left - 6, bottom - (k + 0.5) * tall + 4, amount(second[k]), 'end');
  label(right, bottom + 30, settings.value, 'end');
  label(left - 6, top - 8, settings.second2, 'end');
  label(right, top - 8, sweep.title, 'end');
  for (let k = 0; k < shades; k++)
    root.append(
      svg('rect', {
        x: right + 12,
        y: bottom - ((k + 1) * (bottom - top)) / shades,
        width: 12,
        height: (bottom - top) / shades + 0.4,
        class: `hue-w${k}`,
      }),
    );
  label(right + 28, bottom, amount(low), 'start');
  label(right + 28, top + 10, amount(high), 'start');
  place.append(root);
}
