// The frame of a chart: scales, grid and axis numbers. Everything else is drawn into it.
import { scaleLinear, type ScaleLinear } from 'd3-scale';
import { svg } from './svg';
import { tick } from './numbers';

export interface Frame {
  root: SVGSVGElement;
  plot: SVGGElement;
  x: ScaleLinear<number, number>;
  y: ScaleLinear<number, number>;
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
  yTitle: string;
  label: string;
  rightMargin?: number;
  titleRight?: boolean;
}

let clips = 0;

export function frame(options: FrameOptions): Frame {
  const left = 58, right = options.width - (options.rightMargin ?? 74), top = 18, bottom = options.height - 24;
  const x = scaleLinear(options.xDomain, [left, right]);
  const y = scaleLinear([options.yMin ?? 0, options.yMax > (options.yMin ?? 0) ? options.yMax : (options.yMin ?? 0) + 1], [bottom, top]).nice(5);
  const root = svg('svg', { width: options.width, height: options.height, viewBox: `0 0 ${options.width} ${options.height}`, role: 'group', 'aria-label': options.label, class: 'chart-svg' });
  const grid = svg('g', { class: 'grid' });
  for (const value of y.ticks(Math.max(2, Math.min(6, Math.floor((bottom - top) / 26))))) {
    grid.append(
      svg('line', { x1: left, x2: right, y1: y(value), y2: y(value) }),
      svg('text', { x: left - 8, y: y(value) + 4, 'text-anchor': 'end' }, tick(value)));
  }
  const xTicks = x.ticks(Math.max(2, Math.round((right - left) / 110)));
  xTicks.forEach((value, k) => grid.append(svg('text', { x: x(value), y: bottom + 17, 'text-anchor': 'middle' }, k === xTicks.length - 1 ? `${tick(value)} ${options.xUnit}` : tick(value))));
  const clip = `clip-${++clips}`;
  const plot = svg('g', { 'clip-path': `url(#${clip})` });
  root.append(
    svg('defs', {}, svg('clipPath', { id: clip }, svg('rect', { x: left - 1, y: top - 6, width: Math.max(0, right - left + 2), height: bottom - top + 11 }))),
    grid,
    svg('text', { class: 'y-title', x: options.titleRight ? right : left, y: top - 7, 'text-anchor': options.titleRight ? 'end' : 'start' }, options.yTitle),
    plot);
  return { root, plot, x, y, left, right, top, bottom };
}
