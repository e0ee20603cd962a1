// Sweeps: the family of curves, the outcome against the value, a map for two values.
import { amount } from '../chart/numbers';
import { map } from '../chart/map';
import type { Settings } from './data';
import { parts } from './parts';
import { drawPlot, View, type Plot, type Series } from './plot';
import { colourOf } from '../chart/colours';

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
    place.append(
      map({
        first: sweep.first,
        second: sweep.second,
        values: sweep.outcomes,
        names: [settings.value, settings.second2],
        title: sweep.title,
        ...size,
      }),
    );
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
