// What is drawn into a frame: lines, bands, points, names at the ends of lines.
import { area, line } from 'd3-shape';
import type { Frame } from './frame';
import { svg } from './svg';
import { thin } from './thin';
import { shortened } from './words';

/** Samples of a curve; null and NaN are gaps. */
export type Samples = ArrayLike<number | null>;

/** How far a drawn line may pass from a sample, in pixels: below what the eye or the rounding to tenths tells. */
const unseen = 0.15;

const known = (value: number | null | undefined): value is number => value != null && !Number.isNaN(value);

export function drawLine(frame: Frame, times: ArrayLike<number>, values: Samples, className: string): SVGPathElement {
  const x = new Float64Array(times.length),
    y = new Float64Array(times.length);
  for (let k = 0; k < times.length; k++) {
    x[k] = frame.x(times[k]!);
    y[k] = known(values[k]) ? frame.y(values[k]!) : NaN;
  }
  const path = line<number>()
    .digits(1)
    .defined(k => !Number.isNaN(y[k]))
    .x(k => x[k]!)
    .y(k => y[k]!);
  const element = svg('path', { d: path(thin(x, y, unseen)) ?? '', fill: 'none', class: className });
  frame.plot.append(element);
  return element;
}

export function drawBand(frame: Frame, times: number[], low: number[], high: number[], className: string): void {
  const shape = area<number>()
    .x(k => frame.x(times[k]!))
    .y0(k => frame.y(low[k]!))
    .y1(k => frame.y(high[k]!));
  frame.plot.append(svg('path', { d: shape(times.keys()) ?? '', class: className, stroke: 'none' }));
}

/** A line where the data end and the future begins. */
export function drawNow(frame: Frame, time: number): void {
  const now = frame.x(time);
  frame.root.append(
    svg('line', { x1: now, x2: now, y1: frame.top - 8, y2: frame.bottom, class: 'now stroke-ink [stroke-dasharray:3_3]' }),
    svg('text', { x: now - 6, y: frame.top + 18, 'text-anchor': 'end', class: 'text-xs' }, 'data end here'),
  );
}

/** A point of data, with a bar of one error up and down where it is known. */
export interface Point {
  time: number;
  value: number;
  error?: number | undefined;
  /** Whether all that is known is that it is below the value: an arrow points down from there. */
  below?: boolean | undefined;
  /** Whether fits leave it out: it is dotted then. */
  out?: boolean | undefined;
  /** Its own colour, where it has one. */
  hue?: string | undefined;
  /** The row of the series that it is, where it can be left out of fits with a click. */
  from?: { series: string; row: number };
}

/**
 * @param hue of the curve that the points were seen of
 * @param onPick told which row of data was clicked
 */
export function drawPoints(frame: Frame, points: Point[], hue = 'stroke-ink', onPick?: (series: string, row: number) => void): void {
  // On top of the plot, whose edge would cut a point that stands on it in two.
  for (const point of points) {
    const colour = point.hue ?? hue;
    const x = frame.x(point.time),
      y = frame.y(point.value);
    const inside = x > frame.left - 0.5 && x < frame.right + 0.5 && y > frame.top - 0.5 && y < frame.bottom + 0.5;
    if (!inside) continue;
    if (point.error) {
      const within = (at: number): number => Math.min(frame.bottom, Math.max(frame.top, at));
      frame.root.append(
        svg('line', {
          x1: x,
          x2: x,
          y1: within(frame.y(point.value - point.error)),
          y2: within(frame.y(point.value + point.error)),
          class: `point-error ${colour}`,
        }),
      );
    }
    const down = Math.max(5, Math.min(11, frame.bottom - y));
    if (point.below)
      frame.root.append(
        svg('path', {
          d: `M${x - 4} ${y}h8M${x} ${y}v${down}m-3 -4l3 4l3 -4`,
          class: `fill-none stroke-[1.3] ${colour}${point.out ? ' opacity-60' : ''}`,
        }),
      );
    else
      frame.root.append(
        svg('circle', {
          cx: x,
          cy: y,
          r: 3.4,
          class: `point fill-sheet stroke-[1.3] ${colour}${point.out ? ' opacity-60 [stroke-dasharray:1.6_1.6]' : ''}`,
        }),
      );
    if (!onPick || !point.from) continue;
    const { series, row } = point.from;
    // A point is small: what is clicked is a disc round it.
    const disc = svg('circle', { cx: x, cy: y, r: 9, class: 'fill-transparent cursor-pointer', 'data-point': row });
    disc.append(svg('title', {}, point.out ? 'Take it back into fits' : 'Leave it out of fits'));
    disc.addEventListener('click', event => {
      event.stopPropagation();
      onPick(series, row);
    });
    frame.root.append(disc);
  }
}

export interface EndName {
  text: string;
  y: number;
  className: string;
  onPick?: () => void;
  hint?: string;
  /** The curve it names: it is lifted out of the others while the name is pointed at or has the focus. */
  curve?: SVGElement;
}

/** How far from its curve a name may stand before a thin line leads to it, in pixels. */
const beside = 4;

/** Names at the right ends of curves, pushed apart so that none covers another. */
export function drawEndNames(frame: Frame, names: EndName[], away = 0): void {
  const gap = 14,
    room = Math.floor((frame.bottom - frame.top) / gap) + 1;
  // Of more names than there is room for, those of the greatest values are shown; hovering reads the others.
  const shown =
    names.length <= room
      ? names
      : [...names]
          .sort((a, b) => a.y - b.y)
          .slice(0, room - 1)
          .concat({ text: `${names.length - room + 1} more`, y: frame.bottom, className: 'font-normal! cursor-default!' });
  const placed = shown.map(name => ({ ...name, at: Math.min(Math.max(name.y, frame.top), frame.bottom) })).sort((a, b) => a.at - b.at);
  for (let k = 1; k < placed.length; k++) placed[k]!.at = Math.max(placed[k]!.at, placed[k - 1]!.at + gap);
  // The last name stands clear of the last tick and its unit below the axis.
  let floor = frame.bottom - 2;
  for (let k = placed.length - 1; k >= 0; k--) {
    placed[k]!.at = Math.min(placed[k]!.at, floor);
    floor = placed[k]!.at - gap;
  }
  const wide = Number(frame.root.getAttribute('width')) - frame.right - 8 - away;
  for (const name of placed) {
    const short = shortened(name.text, wide, name.className.includes('symbol') ? 13.5 : 12);
    const label = svg(
      'text',
      { x: frame.right + 8 + away, y: name.at + 4, class: `end-name text-sm font-semibold cursor-pointer ${name.className}` },
      short,
    );
    if (Math.abs(name.at - name.y) > beside && name.y >= frame.top && name.y <= frame.bottom) {
      const from = frame.right + away;
      frame.root.append(svg('path', { d: `M${from} ${name.y.toFixed(1)}L${from + 6} ${name.at}`, class: 'stroke-edge fill-none' }));
    }
    if (name.curve) lift(label, name.curve, frame.plot);
    if (short !== name.text) label.append(svg('title', {}, name.text));
    if (name.onPick) {
      label.setAttribute('tabindex', '0');
      label.setAttribute('role', 'button');
      label.setAttribute('aria-label', name.hint ?? name.text);
      label.addEventListener('click', name.onPick);
      label.addEventListener('keydown', event => {
        if (event.key === 'Enter' || event.key === ' ') {
          event.preventDefault();
          name.onPick!();
        }
      });
    }
    frame.root.append(label);
  }
}

function lift(label: SVGElement, curve: SVGElement, plot: SVGElement): void {
  const show = (lifted: boolean): void => {
    curve.classList.toggle('lifted', lifted);
    plot.classList.toggle('has-lifted', lifted);
  };
  for (const start of ['pointerenter', 'focus']) label.addEventListener(start, () => show(true));
  for (const end of ['pointerleave', 'blur']) label.addEventListener(end, () => show(false));
}

/** The value of a sampled curve at any time within its span, between samples on a straight line. */
export function valueAt(times: ArrayLike<number>, values: Samples, time: number): number | null {
  if (times.length === 0 || time < times[0]! || time > times[times.length - 1]!) return null;
  let low = 0,
    high = times.length - 1;
  while (high - low > 1) {
    const middle = (low + high) >> 1;
    if (times[middle]! <= time) low = middle;
    else high = middle;
  }
  const a = values[low],
    b = values[high];
  if (!known(a) || !known(b)) return known(a) ? a : known(b) ? b : null;
  const span = times[high]! - times[low]!;
  return span > 0 ? a + (b - a) * Math.min(1, (time - times[low]!) / span) : a;
}
