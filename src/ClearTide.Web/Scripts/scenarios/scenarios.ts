// The same curve under the baseline and under each scenario, above a calendar of their measures.
import htmx from '../page/htmx';
import { timeName } from '../chart/calendar';
import { frame } from '../chart/frame';
import { attachHover } from '../chart/hover';
import { drawEndNames, drawLine, drawNow, drawPoints, valueAt } from '../chart/marks';
import { measured } from '../chart/numbers';
import { svg } from '../chart/svg';
import { drawCalendar, laneHeight, type Lane } from '../projection/calendar';
import { startDragging, type Window } from './drag';
import { drawSearch } from './search';

interface Comparison {
  label: string;
  unit: string;
  /** What the curve is counted in; may be empty. */
  counted: string;
  isFlow: boolean;
  now: number | null;
  start: number;
  end: number;
  times: number[];
  curves: { name: string; values: (number | null)[] }[];
  /** Data that have seen the curve. */
  points: { time: number; value: number; error: number | null; below: boolean; out: boolean }[];
  lanes: Lane[];
}

/** The picture's parts, one below the other. */
function part(place: HTMLElement, k: number): Element {
  while (place.children.length <= k) place.append(document.createElement('div'));
  return place.children[k]!;
}

const source = (): string => document.getElementById('scenario-data')?.textContent ?? '';

/** @param held whether a bar is held just now: then the calendar stays, and with it the pointer. */
function draw(data: Comparison, focused: string | null, held = false): void {
  const place = document.getElementById('scenario-chart');
  if (!place || data.curves.length === 0) return;
  const width = Math.max(320, place.getBoundingClientRect().width),
    lanes = data.lanes.length,
    values = [
      ...data.curves.flatMap(curve => curve.values).filter((value): value is number => value !== null),
      ...data.points.map(point => point.value),
    ];
  const at = frame({
    width,
    // The picture takes the room that the calendar leaves.
    height: Math.max(260, Math.min(560, window.innerHeight - 190 - laneHeight * lanes)),
    xDomain: [data.start, data.end],
    yMax: Math.max(0, ...values),
    yMin: Math.min(0, ...values),
    xUnit: `${data.unit}s`,
    time: true,
    yTitle: data.isFlow ? `${data.label}, per ${data.unit}` : data.label,
    label: `${data.label} under the baseline and ${data.curves.length - 1} scenarios`,
    rightMargin: 130,
  });
  const lines = data.curves.map((curve, k) => drawLine(at, data.times, curve.values, `line hue-s${k}`));
  drawPoints(
    at,
    data.points.map(point => ({ ...point, error: point.error ?? undefined })),
  );
  if (data.now !== null) drawNow(at, data.now);
  drawEndNames(
    at,
    data.curves.map((curve, k) => ({
      text: curve.name,
      y: at.y(curve.values.at(-1) ?? 0),
      className: `hue-s${k}`,
      curve: lines[k],
    })),
  );
  attachHover(
    at,
    time => timeName(time, data.unit),
    time =>
      data.curves.map((curve, k) => ({
        name: curve.name,
        value: measured(valueAt(data.times, curve.values, time), data.counted),
        className: `hue-s${k}`,
      })),
  );
  const [curves, bars] = [part(place, 0), part(place, 1)];
  curves.replaceChildren(at.root);
  if (held) return;
  const calendar = svg('svg', {
    width,
    height: Math.max(1, lanes) * laneHeight + 4,
    class: 'chart-svg block max-w-full select-none',
    role: 'group',
    'aria-label': 'Measures over time',
  });
  drawCalendar(calendar, at, data.lanes, data.now ?? data.start);
  bars.replaceChildren(...(lanes ? [calendar] : []));
  calendar.querySelectorAll<SVGElement>('rect[data-lane]').forEach(bar => {
    const lane = data.lanes[Number(bar.dataset.lane)]!;
    startDragging(
      bar,
      lane,
      at,
      to => preview(data, lane, to),
      to => keep(lane, to),
    );
    if (focused === lane.measureId) (bar as unknown as HTMLElement).focus();
  });
}

const asked = (lane: Lane, to: Window): Record<string, string> => ({
  scenario: lane.scenarioId!,
  measure: lane.measureId!,
  from: String(to.from),
  until: String(to.until),
});

/** The bar follows the pointer at once, the curves as fast as they come. */
let going = false,
  next: (() => void) | null = null;
function preview(data: Comparison, lane: Lane, to: Window): void {
  const shown = document.querySelector<SVGElement>(`#scenario-chart rect[data-lane="${data.lanes.indexOf(lane)}"]`),
    width = Number(shown?.dataset.perUnit);
  if (shown && Number.isFinite(width)) {
    const least = Number(shown.dataset.least ?? 0);
    shown.setAttribute('x', String(Number(shown.dataset.origin) + (to.from - data.start) * width - least / 2));
    shown.setAttribute('width', String(Math.max(least, (to.until - to.from) * width)));
  }
  const ask = async (): Promise<void> => {
    going = true;
    try {
      const of = new URLSearchParams(location.search).get('of') ?? '';
      const answer = await fetch(`?handler=Moved&${new URLSearchParams({ of, ...asked(lane, to) }).toString()}`);
      if (answer.ok) draw((await answer.json()) as Comparison, null, true);
    } catch {
      // Without the server the curves stay as they were.
    }
    going = false;
    const again = next;
    next = null;
    again?.();
  };
  if (going) next = () => void ask();
  else void ask();
}

function keep(lane: Lane, to: Window): void {
  const of = new URLSearchParams(location.search).get('of') ?? '';
  void htmx.ajax('post', `?handler=Move&of=${encodeURIComponent(of)}`, {
    source: '#scenarios',
    target: '#scenarios',
    swap: 'morph:outerHTML',
    values: { version: document.querySelector<HTMLInputElement>('#version')!.value, ...asked(lane, to) },
  });
}

export function startScenarios(root: HTMLElement): void {
  const show = (): void => {
    if (!source()) return;
    const held = (document.activeElement as SVGElement | null)?.dataset?.measure ?? null;
    draw(JSON.parse(source()) as Comparison, held);
  };
  root.addEventListener('change', event => {
    const field = event.target as HTMLSelectElement | HTMLInputElement;
    if ('submits' in field.dataset) field.form?.requestSubmit();
  });
  document.addEventListener('htmx:afterSettle', show);
  document.addEventListener('htmx:afterSettle', drawSearch);
  document.addEventListener('dates-changed', show);
  let wide = root.clientWidth;
  new ResizeObserver(() => {
    if (root.clientWidth !== wide) show();
    wide = root.clientWidth;
  }).observe(root);
  show();
}
