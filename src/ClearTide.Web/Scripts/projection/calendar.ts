// Measures as bars on a calendar that shares its time axis with the chart above; what lies before now is hatched and does not act.
import type { Frame } from '../chart/frame';
import { svg } from '../chart/svg';

export interface Lane {
  name: string;
  words: string;
  from: number;
  until: number;
  scenario: number;
  /** Ids of what the bar stands for, where it can be moved. */
  scenarioId?: string;
  measureId?: string;
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
    const bar = svg('rect', { x: cut, y, width: Math.max(0, end - cut), height: 22, rx: 3, class: `bar hue-s${lane.scenario}` });
    root.append(
      svg('line', { x1: at.left, x2: at.right, y1: y + 27, y2: y + 27, class: 'stroke-line' }),
      svg('rect', { x: start, y, width: Math.max(0, cut - start), height: 22, rx: 3, class: `bar past hue-s${lane.scenario}` }),
      bar,
    );
    const room = end - cut;
    const text = lane.name ? `${lane.name} · ${lane.words}` : lane.words;
    if (lane.measureId) makeMovable(bar, lane, k, at, text);
    const fits = room > 6.4 * text.length + 16;
    root.append(
      svg(
        'text',
        {
          x: fits ? cut + 9 : Math.min(end + 8, at.right - 6.4 * text.length),
          y: y + 15,
          class: `pointer-events-none ${fits ? 'text-xs fill-sheet font-semibold' : 'text-xs fill-ink'}`,
        },
        text,
      ),
    );
  });
}

/** A bar that can be taken by the pointer and by keys says what it is, and where times lie on it. */
function makeMovable(bar: SVGElement, lane: Lane, place: number, at: Frame, text: string): void {
  const [first, last] = at.x.domain() as [number, number];
  for (const [name, value] of Object.entries({
    'data-lane': place,
    'data-measure': lane.measureId!,
    'data-origin': at.left,
    'data-per-unit': (at.right - at.left) / (last - first),
    tabindex: 0,
    role: 'button',
    'aria-label': `${text}, from ${lane.from} until ${lane.until}. Arrow keys move it, Shift with arrows moves its end.`,
  }))
    bar.setAttribute(name, String(value));
  bar.classList.add('cursor-grab', 'focus-visible:outline-2');
}
