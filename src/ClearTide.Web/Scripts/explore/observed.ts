// Observed counts, and what the model expects of each interval.
import { amount } from '../chart/numbers';
import type { Explored, Settings } from './data';
import { drawPlot, type Plot, type View } from './plot';

/** Whether what was observed has to do with a panel's curves, and lies below them. */
export function hasDataBelow({ run }: Explored, settings: Settings): boolean {
  return settings.withData && (run.observed?.points.length ?? 0) > 0 && settings.chosen.some(id => run.observed!.about.includes(id));
}

export function observedPlot({ run }: Explored): Plot {
  const observed = run.observed!;
  return {
    series: [{ id: 'expected', name: 'expected', times: observed.times, values: observed.expected, className: 'hue-c0' }],
    points: observed.points.map(point => ({ time: point.end, value: point.value })),
    xName: run.unit,
    xUnit: `${run.unit}s`,
    yTitle: `${observed.label} in ${amount(observed.interval)} ${run.unit}s`,
    label: `${observed.label}: observed and expected`,
  };
}

/** Observed counts and what the model expects of each interval, kept runs beside it: on an axis of their own, since they are counted by the interval. */
export function drawObserved(
  place: HTMLElement,
  words: HTMLElement,
  explored: Explored,
  view: View,
  redraw: () => void,
  size: { width: number; height: number },
): void {
  const { run } = explored,
    observed = run.observed;
  words.textContent = observed ? (observed.problem ?? '') : 'There are no data on this model yet. Bring them under Data.';
  if (!observed) {
    place.replaceChildren();
    return;
  }
  drawPlot(place, observedPlot(explored), view, redraw, size);
}
