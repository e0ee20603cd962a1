// How far data lie from what is expected of them: a switch that all charts of data share, and the points that they draw then.
import type { Observed } from '../build/run';
import { valueAt } from './marks';
import type { DataPoint } from './points';

const kept = 'clear-tide residuals';

export const areResiduals = (): boolean => sessionStorage.getItem(kept) === 'true';

/** Shows on the buttons whether they are on: an answer of the server knows nothing of it. */
export function markResiduals(): void {
  for (const button of document.querySelectorAll('[data-residuals]')) button.setAttribute('aria-pressed', String(areResiduals()));
}

/** Lets the buttons turn them on and off, and calls for a redraw where that was done. */
export function startResiduals(root: HTMLElement, redraw: () => void): void {
  root.addEventListener('click', event => {
    if (!(event.target as Element).closest('[data-residuals]')) return;
    sessionStorage.setItem(kept, String(!areResiduals()));
    markResiduals();
    redraw();
  });
  markResiduals();
}

/** What was seen less what is expected; a row below a limit where less is expected is at zero, and one without an expectation none. */
export function lessExpected({ points, times, expected }: Observed): DataPoint[] {
  return points.flatMap(point => {
    const mean = valueAt(times, expected, point.end);
    return mean === null ? [] : [{ ...point, below: false, value: point.below && mean < point.value ? 0 : point.value - mean }];
  });
}

/** A series with its points as residuals, about an expectation of zero. */
export const asResiduals = (observed: Observed): Observed => ({
  ...observed,
  axis: `${observed.label}: observed minus expected`,
  counted: false,
  points: lessExpected(observed),
  expected: observed.expected.map(value => (value === null ? null : 0)),
});
