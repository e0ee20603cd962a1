// A small curve beside each line of the ledger, and for what modules offer on the diagram.
import { svg } from '../chart/svg';
import { thin } from '../chart/thin';
import type { Numbers, Run } from './run';

const width = 44,
  height = 14;

function path(times: Float64Array, values: Numbers): string {
  let low = Infinity,
    high = -Infinity;
  for (const value of values) {
    if (value < low) low = value;
    if (value > high) high = value;
  }
  if (low > high || values.length < 2) return '';
  // Tenths of a pixel as whole numbers: cheaper to write than fractions, and scaled by the drawing itself.
  const start = times[0]!,
    span = times[times.length - 1]! - start,
    wide = span > 0 ? (10 * width) / span : 0,
    tall = high > low ? (10 * (height - 2)) / (high - low) : 0,
    foot = high > low ? 10 * (height - 1) : 5 * height;
  const x = new Float64Array(values.length),
    y = new Float64Array(values.length);
  for (let k = 0; k < values.length; k++) {
    x[k] = Math.round((times[k]! - start) * wide);
    y[k] = Math.round(foot - (values[k]! - low) * tall);
  }
  let line = '',
    lifted = true;
  for (const k of thin(x, y, 2)) {
    if (Number.isNaN(y[k])) {
      lifted = true;
      continue;
    }
    line += `${lifted ? 'M' : 'L'}${x[k]} ${y[k]}`;
    lifted = false;
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
  for (const place of document.querySelectorAll<HTMLElement | SVGElement>('.line-spark')) {
    const curve = byId.get(place.dataset.spark ?? '');
    if (!curve) {
      place.replaceChildren();
      continue;
    }
    const drawn = place.querySelector('path');
    if (drawn) {
      drawn.setAttribute('d', path(run.times, curve.values));
      continue;
    }
    place.replaceChildren(
      svg(
        'svg',
        { width, height, viewBox: `0 0 ${10 * width} ${10 * height}`, 'aria-hidden': 'true' },
        svg('path', { d: path(run.times, curve.values), class: `spark hue-c${curve.colour}`, fill: 'none' }),
      ),
    );
  }
}
