// A small curve beside each line of the ledger.
import { svg } from '../chart/svg';
import type { Run } from './run';

const width = 44, height = 14, points = 40;

function path(values: Float64Array): string {
  const finite = values.filter(value => !Number.isNaN(value));
  if (finite.length < 2) return '';
  const low = Math.min(...finite), high = Math.max(...finite);
  const stride = Math.max(1, Math.floor(values.length / points));
  let line = '';
  for (let k = 0; k < values.length; k += stride) {
    const value = values[k];
    if (value === undefined || Number.isNaN(value)) continue;
    const x = (k / (values.length - 1)) * width, y = high > low ? height - 1 - ((value - low) / (high - low)) * (height - 2) : height / 2;
    line += `${line ? 'L' : 'M'}${x.toFixed(1)} ${y.toFixed(1)}`;
  }
  return line;
}

let waiting = 0;

/** Draws them after the curves themselves have been shown: they matter less, and there is one for every line. */
export function drawSparks(run: Run): void {
  clearTimeout(waiting);
  waiting = setTimeout(() => draw(run), 60);
}

function draw(run: Run): void {
  const byId = new Map(run.curves.map(curve => [curve.id, curve]));
  for (const place of document.querySelectorAll<HTMLElement>('.line-spark')) {
    const curve = byId.get(place.dataset.spark ?? '');
    if (!curve) {
      place.replaceChildren();
      continue;
    }
    const drawn = place.querySelector('path');
    if (drawn) {
      drawn.setAttribute('d', path(curve.values));
      continue;
    }
    place.replaceChildren(svg('svg', { width, height, viewBox: `0 0 ${width} ${height}`, 'aria-hidden': 'true' }, svg('path', { d: path(curve.values), class: `spark c${curve.colour}`, fill: 'none' })));
  }
}
