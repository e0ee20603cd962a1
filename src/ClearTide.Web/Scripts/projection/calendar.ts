// Measures as bars on a calendar that shares its time axis with the chart above; what lies before now is hatched and does not act.
import type { Frame } from '../chart/frame';
import { svg } from '../chart/svg';
import { widthOf } from '../chart/words';

export interface Lane {
  name: string;
  words: string;
  from: number;
  until: number;
  scenario: number;
  /** Of what is done at times or on conditions the moments and stretches in which it acts. */
  stretches?: [number, number][] | null;
  /** By chance, for each interval of the future the share of replicates in which it acts. */
  shares?: number[] | null;
  /** The rule that it shows; none where it shows how often a level is exceeded. */
  ruleId?: string | null;
  /** The share of replicates in which it acts at all. */
  ever?: number | null;
  /** Ids of what the bar stands for, where it can be moved. */
  scenarioId?: string | null;
  measureId?: string | null;
  /** Whether it has no end of its own, and is moved as a whole. */
  endless?: boolean;
}

export const laneHeight = 34;

/** @param times Now and the end of each interval of the future, where lanes hold shares. */
export function drawCalendar(root: SVGSVGElement, at: Frame, lanes: Lane[], now: number, times: number[] = []): void {
  const inside = (x: number): number => Math.min(Math.max(x, at.left), at.right);
  lanes.forEach((lane, k) => {
    const y = k * laneHeight + 4;
    if (lane.stretches) {
      root.append(svg('line', { x1: at.left, x2: at.right, y1: y + 27, y2: y + 27, class: 'stroke-line' }));
      drawRule(root, at, lane, y, times);
      if (lane.measureId) root.append(grip(at, lane, k, y));
      return;
    }
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

/** The moments and stretches in which something acts; where chance decides, each interval as dark as the share of replicates is high. */
function drawRule(root: SVGSVGElement, at: Frame, lane: Lane, y: number, times: number[]): void {
  const shares = lane.shares?.map((share, k) => ({ from: times[k]!, until: times[k + 1]!, share })).filter(one => one.share > 0);
  const parts = shares ?? lane.stretches!.map(([from, until]) => ({ from, until, share: 1 }));
  for (const { from, until, share } of parts) {
    const x = at.x(from),
      bar = svg('rect', {
        x,
        y,
        width: Math.max(3, at.x(until) - x),
        height: 22,
        class: `bar hue-s${lane.scenario}`,
        'fill-opacity': share,
      });
    if (shares) bar.append(svg('title', {}, `in ${Math.round(100 * share)} % of the replicates`));
    root.append(bar);
  }
  const text = lane.name ? `${lane.name} · ${lane.words}` : lane.words;
  const label = svg(
    'text',
    { x: at.left + 8, y: y + 15, class: 'pointer-events-none text-xs fill-ink stroke-paper stroke-4 [paint-order:stroke]' },
    text,
  );
  root.append(label);
  if (lane.ever != null)
    root.append(
      svg(
        'text',
        { x: at.right + 8, y: y + 15, class: 'text-xs fill-mute' },
        `${lane.ruleId ? 'acts in' : 'in'} ${Math.round(100 * lane.ever)} %`,
      ),
    );
  // What it says stands clear of what it does, as far as there is room.
  const width = widthOf(text, 11.5, 400),
    long = shares ? undefined : parts.find(one => Math.min(at.x(one.until), at.right) - at.x(one.from) > width + 24),
    edges = [at.left, ...parts.flatMap(one => [at.x(one.from), Math.max(at.x(one.from) + 3, at.x(one.until))]), at.right];
  for (let k = 0; k + 1 < edges.length; k += 2) {
    const room = edges[k + 1]! - edges[k]! - width;
    // Ink ends before the width of its text does.
    if (room < -1) continue;
    label.setAttribute('x', String(edges[k]! + Math.min(8, 0.5 * room)));
    return;
  }
  if (!long) return;
  // Or within what it does, as the words of a measure are.
  label.setAttribute('x', String(at.x(long.from) + 14));
  label.setAttribute('class', 'pointer-events-none text-xs fill-sheet font-semibold');
}

/** What a rule is taken by: all of its time, or a few pixels about a moment or a beginning. */
function grip(at: Frame, lane: Lane, place: number, y: number): SVGElement {
  const least = lane.endless ? 12 : 0,
    from = at.x(lane.from);
  const bar = svg('rect', {
    x: from - least / 2,
    y,
    width: Math.max(least, at.x(lane.until) - from),
    height: 22,
    rx: 3,
    'data-least': least,
    class: 'fill-transparent stroke-edge',
  });
  makeMovable(bar, lane, place, at, lane.name ? `${lane.name} · ${lane.words}` : lane.words);
  return bar;
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
    'aria-label': lane.endless
      ? `${text}, at ${lane.from}. Arrow keys move it.`
      : `${text}, from ${lane.from} until ${lane.until}. Arrow keys move it, Shift with arrows moves its end.`,
  }))
    bar.setAttribute(name, String(value));
  bar.classList.add('cursor-grab', 'focus-visible:outline-2');
}
