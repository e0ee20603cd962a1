// Measures as bars on a calendar that shares its time axis with the chart above; what lies before now is hatched and does not act.
import type { Frame } from '../chart/frame';
import { svg } from '../chart/svg';

export interface Lane {
  name: string;
  words: string;
  from: number;
  until: number;
  scenario: number;
}

export const laneHeight = 34;

export function drawCalendar(root: SVGSVGElement, at: Frame, lanes: Lane[], now: number): void {
  const inside = (x: number): number => Math.min(Math.max(x, at.left), at.right);
  lanes.forEach((lane, k) => {
    const y = k * laneHeight + 4;
    const [start, cut, end] = [
      inside(at.x(lane.from)),
      inside(at.x(Math.max(lane.from, Math.min(now, lane.until)))),
      inside(at.x(lane.until)),
    ];
    root.append(
      svg('line', { x1: at.left, x2: at.right, y1: y + 27, y2: y + 27, class: 'stroke-line' }),
      svg('rect', { x: start, y, width: Math.max(0, cut - start), height: 22, rx: 3, class: `bar past hue-s${lane.scenario}` }),
      svg('rect', { x: cut, y, width: Math.max(0, end - cut), height: 22, rx: 3, class: `bar hue-s${lane.scenario}` }),
    );
    const room = end - cut;
    const text = `${lane.name} · ${lane.words}`;
    const fits = room > 6.4 * text.length + 16;
    root.append(
      svg(
        'text',
        {
          x: fits ? cut + 9 : Math.min(end + 8, at.right - 6.4 * text.length),
          y: y + 15,
          class: fits ? 'text-xs fill-sheet font-semibold' : 'text-xs fill-ink',
        },
        text,
      ),
    );
  });
}
