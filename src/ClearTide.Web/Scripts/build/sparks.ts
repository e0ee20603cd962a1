// A small curve beside each line of the ledger.
import { svg } from '../chart/svg';
import type { Run } from './run';

const width = 44, height = 14, points = 40;

function path(values: Float64Array): string {
  let low = Infinity, high = -Infinity;
  for (const value of values) {
    if (value < low) low = value;
    if (value > high) high = value;
  }
  if (low > high || values.length < 2) return '';
  // Tenths of a pixel as whole numbers: cheaper to write than fractions, and scaled by the drawing itself.
  const wide = (10 * width) / (values.length - 1), tall = high > low ? (10 * (height - 2)) / (high - low) : 0, foot = high > low ? 10 * (height - 1) : 5 * height;
  const stride = Math.max(1, Math.floor(values.length / points));
  let line = '';
  for (let k = 0; k < values.length; k += stride) {
    const value = values[k];
    if (value === undefined || Number.isNaN(value)) continue;
    line += `${line ? 'L' : 'M'}${Math.round(k * wide)} ${Math.round(foot - (value - low) * tall)}`;
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
    place.replaceChildren(svg('svg', { width, height, viewBox: `0 0 ${10 * width} ${10 * height}`, 'aria-hidden': 'true' }, svg('path', { d: path(curve.values), class: `spark c${curve.colour}`, fill: 'none' })));
  }
}
