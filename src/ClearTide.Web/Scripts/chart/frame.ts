// The frame of a chart: scales, grid and axis numbers. Everything else is drawn into it.
import { scaleLinear, scaleLog, type ScaleLinear, type ScaleLogarithmic } from 'd3-scale';
import { calendar, dateTicks } from './calendar';
import { svg } from './svg';
import { tick } from './numbers';

export type Scale = ScaleLinear<number, number> | ScaleLogarithmic<number, number>;

export interface Frame {
  root: SVGSVGElement;
  plot: SVGGElement;
  x: ScaleLinear<number, number>;
  y: Scale;
  /** The scale of the second axis, where there is one. */
  y2: Scale | null;
  left: number;
  right: number;
  top: number;
  bottom: number;
}

export interface FrameOptions {
  width: number;
  height: number;
  xDomain: [number, number];
  yMax: number;
  yMin?: number;
  xUnit: string;
  /** Whether the level axis is time, and may show dates. */
  time?: boolean;
  yTitle: string;
  label: string;
  rightMargin?: number;
  titleRight?: boolean;
  /** Whether the upright axis goes in equal ratios; its least value is above zero then. */
  log?: boolean;
  second?: { max: number; min: number; title: string };
}

let clips = 0;

/** Where the level axis has words, and which: dates where the study has them, else numbers, the last one with their unit. */
function levelTicks(options: FrameOptions, x: ScaleLinear<number, number>, count: number): { time: number; name: string }[] {
  const of = options.time ? calendar() : null,
    dates = of ? dateTicks(of, options.xDomain[0], options.xDomain[1], count) : [];
  if (dates.length > 0) return dates;
  const ticks = x.ticks(count);
  return ticks.map((value, k) => ({ time: value, name: k === ticks.length - 1 ? `${tick(value)} ${options.xUnit}` : tick(value) }));
}

export function frame(options: FrameOptions): Frame {
  const left = 58,
    right = options.width - (options.rightMargin ?? 74),
    top = 18,
    bottom = options.height - 24;
  const x = scaleLinear(options.xDomain, [left, right]);
  const upright = (min: number, max: number): [number, number] => [min, max > min ? max : min + 1];
  const y: Scale = options.log
    ? scaleLog(upright(options.yMin ?? options.yMax / 1e6, options.yMax), [bottom, top])
    : scaleLinear(upright(options.yMin ?? 0, options.yMax), [bottom, top]).nice(5);
  const y2 = options.second ? scaleLinear(upright(options.second.min, options.second.max), [bottom, top]).nice(5) : null;
  const root = svg('svg', {
    width: options.width,
    height: options.height,
    viewBox: `0 0 ${options.width} ${options.height}`,
    role: 'group',
    'aria-label': options.label,
    class: 'chart-svg block max-w-full select-none',
  });
  const grid = svg('g', { class: 'grid [&_line]:stroke-contour' });
  const most = Math.max(2, Math.min(6, Math.floor((bottom - top) / 26)));
  // In equal ratios there are more ticks than room: some of them are taken.
  const marks = y.ticks(most),
    every = Math.max(1, Math.ceil(marks.length / (2 * most)));
  for (const value of marks.filter((_, k) => k % every === 0)) {
    grid.append(
      svg('line', { x1: left, x2: right, y1: y(value), y2: y(value) }),
      svg('text', { x: left - 8, y: y(value) + 4, 'text-anchor': 'end' }, tick(value)),
    );
  }
  for (const value of y2?.ticks(most) ?? []) grid.append(svg('text', { x: right + 6, y: y2!(value) + 4, class: 'fill-mute' }, tick(value)));
  for (const { time, name } of levelTicks(options, x, Math.max(2, Math.round((right - left) / 110))))
    grid.append(svg('text', { x: x(time), y: bottom + 17, 'text-anchor': 'middle' }, name));
  const clip = `clip-${++clips}`;
  const plot = svg('g', { 'clip-path': `url(#${clip})` });
  root.append(
    svg(
      'defs',
      {},
      svg(
        'clipPath',
        { id: clip },
        svg('rect', { x: left - 1, y: top - 6, width: Math.max(0, right - left + 2), height: bottom - top + 11 }),
      ),
    ),
    grid,
    svg(
      'text',
      { class: 'y-title text-xs', x: options.titleRight ? right : left, y: top - 7, 'text-anchor': options.titleRight ? 'end' : 'start' },
      options.yTitle,
    ),
    options.second ? svg('text', { class: 'y-title text-xs', x: right + 6, y: top - 7 }, options.second.title) : '',
    plot,
  );
  return { root, plot, x, y, y2, left, right, top, bottom };
}
