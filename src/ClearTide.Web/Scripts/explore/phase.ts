// Two curves against each other, from several starts and for several values, with the lines on which each stands still.
import { frame } from '../chart/frame';
import { drawLine } from '../chart/marks';
import { amount } from '../chart/numbers';
import { svg } from '../chart/svg';
import type { Settings } from './data';
import { colourOf } from '../chart/colours';

interface Path {
  value: number | null;
  start: number;
  x: (number | null)[];
  y: (number | null)[];
  failure: string | null;
}

export interface Phase {
  problem?: string;
  note?: string | null;
  paths?: Path[];
  still?: { value: number | null; x: number[][]; y: number[][] }[];
}

export function drawPhase(
  place: HTMLElement,
  words: HTMLElement,
  phase: Phase,
  settings: Settings,
  size: { width: number; height: number },
): void {
  place.replaceChildren();
  const failures = (phase.paths ?? []).map(path => path.failure).filter(Boolean);
  words.textContent = [
    phase.problem,
    phase.note,
    failures.length ? `${failures.length} of the starts cannot be followed: ${failures[0]}` : '',
  ]
    .filter(Boolean)
    .join(' ');
  if (!phase.paths || phase.problem) return;
  const all = (side: 'x' | 'y'): number[] => phase.paths!.flatMap(path => path[side]).filter((value): value is number => value !== null);
  const xs = all('x'),
    ys = all('y');
  if (xs.length === 0) return;
  const least = (values: number[]): number => values.reduce((a, b) => Math.min(a, b), 0),
    most = (values: number[]): number => values.reduce((a, b) => Math.max(a, b));
  const x0 = least(xs),
    x1 = most(xs),
    y0 = least(ys),
    y1 = most(ys);
  const values = [...new Set(phase.paths.map(path => path.value))],
    varied = values.length > 1 || values[0] !== null;
  const at = frame({
    width: Math.max(260, size.width),
    height: Math.max(160, size.height),
    xDomain: [x0, x1 > x0 ? x1 * 1.02 : x0 + 1],
    yMax: y1,
    yMin: y0,
    xUnit: settings.x,
    yTitle: settings.y,
    label: `${settings.y} against ${settings.x}`,
    rightMargin: varied ? 110 : 30,
  });
  // Where a value is varied, colour stands for it; else for the start.
  const colour = (value: number | null, start: number): string =>
    varied ? colourOf(values.indexOf(value), values.length) : start === 0 ? 'hue-c0' : `hue-c${((start - 1) % 10) + 1}`;
  for (const still of phase.still ?? []) {
    for (const [segments, className] of [
      [still.x, 'still-x'],
      [still.y, 'still-y'],
    ] as const) {
      at.plot.append(
        svg('path', {
          d: segments
            .map(([a, b, c, d]) => `M${at.x(a!).toFixed(1)} ${at.y(b!).toFixed(1)}L${at.x(c!).toFixed(1)} ${at.y(d!).toFixed(1)}`)
            .join(''),
          class: `${className} ${varied ? colour(still.value, 0) : ''}`,
          fill: 'none',
        }),
      );
    }
  }
  for (const path of phase.paths) {
    const name = `${varied ? `${settings.value} ${amount(path.value)}, ` : ''}${path.start === 0 ? 'the start of the study' : `start ${path.start}`}`;
    drawLine(
      at,
      path.x.map(value => value ?? NaN),
      path.y,
      `line whole ${colour(path.value, path.start)}`,
    );
    const [x, y] = [path.x[0], path.y[0]];
    if (x != null && y != null)
      at.plot.append(
        svg(
          'circle',
          { cx: at.x(x), cy: at.y(y), r: 3.5, class: `dot-mark stroke-sheet ${varied ? 'hue-c0' : colour(path.value, path.start)}` },
          svg('title', {}, name),
        ),
      );
  }
  // Only what is there is explained.
  const stills = phase.still ?? [],
    dashed = stills.some(still => still.x.length > 0),
    dotted = stills.some(still => still.y.length > 0);
  const key =
    dashed && dotted
      ? `dashed: ${settings.x} stands still; dotted: ${settings.y} does`
      : dashed
        ? `dashed: ${settings.x} stands still`
        : dotted
          ? `dotted: ${settings.y} stands still`
          : '';
  if (key) at.root.append(svg('text', { x: at.left + 6, y: at.top + 12, class: 'font-normal! cursor-default!' }, key));
  if (varied) {
    at.root.append(svg('text', { x: at.right + 10, y: at.top + 12, class: 'font-normal! cursor-default!' }, settings.value));
    values.forEach((value, k) =>
      at.root.append(
        svg('line', {
          x1: at.right + 10,
          x2: at.right + 24,
          y1: at.top + 26 + 16 * k,
          y2: at.top + 26 + 16 * k,
          class: `line ${colourOf(k, values.length)}`,
        }),
        svg('text', { x: at.right + 30, y: at.top + 30 + 16 * k, class: 'value-name' }, amount(value)),
      ),
    );
  }
  place.append(at.root);
}

/** The paths as rows, point by point. */
export function phaseRows(phase: Phase, settings: Settings): { heads: string[]; rows: (number | null)[][] } {
  const paths = phase.paths ?? [],
    varied = paths.some(path => path.value !== null);
  return {
    heads: [...(varied ? [settings.value] : []), 'start', settings.x, settings.y],
    rows: paths.flatMap(path => path.x.map((x, k) => [...(varied ? [path.value] : []), path.start, x, path.y[k] ?? null])),
  };
}
