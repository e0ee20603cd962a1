// Series of data, and what the model expects of each.
import { pointsOf } from '../chart/points';
import { areResiduals, asResiduals } from '../chart/residuals';
import type { Observed, Run } from '../build/run';
import type { Explored, Settings } from './data';
import { parts } from './parts';
import { drawPlot, View, type Plot } from './plot';

/** The series that have to do with a panel's curves and lie below them, on axes of their own. */
export const dataBelow = ({ run }: Explored, settings: Settings): Observed[] =>
  settings.withData
    ? run.observed.filter(
        one =>
          one.points.length > 0 &&
          settings.chosen.some(id => one.about.includes(id)) &&
          // Residuals lie on no curve.
          !(!areResiduals() && one.curve !== null && settings.chosen.includes(one.curve)),
      )
    : [];

/** The series that lie on curves of a panel themselves. */
export const dataOn = ({ run }: Explored, settings: Settings): Observed[] =>
  settings.withData ? run.observed.filter(one => one.curve !== null && settings.chosen.includes(one.curve)) : [];

export function observedPlot(run: Run, seen: Observed): Plot {
  const observed = areResiduals() ? asResiduals(seen) : seen;
  return {
    series: [{ id: 'expected', name: 'expected', times: observed.times, values: observed.expected, className: 'hue-c0' }],
    points: pointsOf(observed),
    xName: run.unit,
    xUnit: `${run.unit}s`,
    time: true,
    yTitle: observed.axis,
    label: `${observed.label}: observed and expected`,
  };
}

/** Each series of data in a plot of its own, one below the other. */
export function drawObserved(
  place: HTMLElement,
  words: HTMLElement,
  explored: Explored,
  view: View,
  redraw: () => void,
  size: { width: number; height: number },
): void {
  const { run } = explored;
  words.textContent = run.observed.length
    ? run.observed
        .map(one => one.problem ?? '')
        .filter(Boolean)
        .join(' ')
    : 'There are no data on this model yet. Bring them under Data.';
  if (run.observed.length === 0) {
    place.replaceChildren();
    return;
  }
  const places = parts(place, run.observed.length),
    height = Math.max(140, size.height / run.observed.length);
  run.observed.forEach((one, k) => drawPlot(places[k]!, observedPlot(run, one), view, redraw, { ...size, height }));
}
