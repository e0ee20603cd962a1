// Two curves against each other, from several starts, with the lines on which each stands still.
import { frame } from '../chart/frame';
import { drawLine } from '../chart/marks';
import { svg } from '../chart/svg';
import type { Settings } from './data';

export interface Phase { problem?: string; note?: string | null; paths?: { x: (number | null)[]; y: (number | null)[]; failure: string | null }[]; xStill?: number[][]; yStill?: number[][] }

export function drawPhase(place: HTMLElement, words: HTMLElement, phase: Phase, settings: Settings, size: { width: number; height: number }): void {
  place.replaceChildren();
  const failures = (phase.paths ?? []).map(path => path.failure).filter(Boolean);
  words.textContent = [phase.problem, phase.note, failures.length ? `${failures.length} of the starts cannot be followed: ${failures[0]}` : ''].filter(Boolean).join(' ');
  if (!phase.paths || phase.problem) return;
  const all = (side: 'x' | 'y'): number[] => phase.paths!.flatMap(path => path[side]).filter((value): value is number => value !== null);
  const xs = all('x'), ys = all('y');
  if (xs.length === 0) return;
  const x0 = Math.min(0, ...[xs.reduce((a, b) => Math.min(a, b))]), x1 = xs.reduce((a, b) => Math.max(a, b)), y0 = Math.min(0, ys.reduce((a, b) => Math.min(a, b))), y1 = ys.reduce((a, b) => Math.max(a, b));
  const at = frame({ width: Math.max(260, size.width), height: Math.max(160, size.height), xDomain: [x0, x1 > x0 ? x1 * 1.02 : x0 + 1], yMax: y1, yMin: y0, xUnit: settings.x, yTitle: settings.y, label: `${settings.y} against ${settings.x}`, rightMargin: 30 });
  for (const [segments, className] of [[phase.xStill ?? [], 'still-x'], [phase.yStill ?? [], 'still-y']] as const) {
    at.plot.append(svg('path', { d: segments.map(([a, b, c, d]) => `M${at.x(a!).toFixed(1)} ${at.y(b!).toFixed(1)}L${at.x(c!).toFixed(1)} ${at.y(d!).toFixed(1)}`).join(''), class: className, fill: 'none' }));
  }
  phase.paths.forEach((path, k) => {
    drawLine(at, path.x.map(value => value ?? NaN), path.y, `line whole ${k === 0 ? 'c0' : `c${((k - 1) % 10) + 1}`}`);
    const [x, y] = [path.x[0], path.y[0]];
    if (x != null && y != null) at.plot.append(svg('circle', { cx: at.x(x), cy: at.y(y), r: 3.5, class: `dot-mark ${k === 0 ? 'c0' : `c${((k - 1) % 10) + 1}`}` }, svg('title', {}, k === 0 ? 'the run of the study' : `start ${k}`)));
  });
  at.root.append(svg('text', { x: at.left + 6, y: at.top + 12, class: 'quiet-name' }, `dashed: ${settings.x} stands still; dotted: ${settings.y} does`));
  place.append(at.root);
}
