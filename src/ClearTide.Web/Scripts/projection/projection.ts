// The fan of futures: data, where they end, and the bands of baseline and scenarios, with the measures on a calendar below.
import { timeName } from '../chart/calendar';
import { frame, type Frame } from '../chart/frame';
import { attachHover } from '../chart/hover';
import { drawBand, drawEndNames, drawLine, drawNow, drawPoints } from '../chart/marks';
import { amount, measured } from '../chart/numbers';
import { svg } from '../chart/svg';
import { drawShares, sharesHeight, type Share } from './shares';
import { drawCalendar, laneHeight, type Lane } from './calendar';

interface Band {
  p5: number;
  p25: number;
  median: number;
  p75: number;
  p95: number;
}

interface Picture {
  label: string;
  unit: string;
  /** What is followed is counted in; may be empty. */
  counted: string;
  now: number;
  /** Whether it goes on from data. */
  goesOn: boolean;
  /** Whether it says how much there is, and not what is counted in an interval. */
  isAmount: boolean;
  /** The curve without chance, where nothing is projected yet. */
  preview: { times: number[]; values: (number | null)[] } | null;
  interval: number;
  start: number;
  times: number[];
  rows: { start: number; end: number; value: number }[];
  /** A level of what is followed, or null. */
  level: number | null;
  scenarios: { name: string; intervals: Band[]; runs: number[][] }[];
  lanes: Lane[];
  /** Shares of sources in the variance; empty where nobody has asked for them. */
  shares: Share[];
}

/** A level across the picture, with its number. */
function drawLevel(at: Frame, level: number): void {
  const y = at.y(level);
  at.root.append(
    svg('line', { x1: at.left, x2: at.right, y1: y, y2: y, class: 'level stroke-coral [stroke-dasharray:5_4]' }),
    svg('text', { x: at.left + 6, y: y - 5, class: 'text-xs fill-coral' }, amount(level)),
  );
}

function draw(): void {
  const place = document.getElementById('projection-chart');
  const source = document.getElementById('projection-data');
  if (!place || !source) return;
  const data = JSON.parse(source.textContent ?? '{}') as Picture;
  if (!data.rows) return;
  const box = place.getBoundingClientRect();
  const ends = data.times.slice(1);
  const top = Math.max(
    1,
    ...data.rows.map(row => row.value),
    ...data.scenarios.flatMap(scenario => scenario.intervals.map(band => band.p95)),
    ...(data.preview?.values ?? []).map(value => value ?? 0),
    ...(data.level === null ? [] : [1.05 * data.level]),
  );
  const withRuns = document.querySelector<HTMLInputElement>('#sample-runs')?.checked ?? false;
  const last = ends[ends.length - 1] ?? data.now;
  const at = frame({
    width: Math.max(320, box.width),
    // The picture takes the room that the calendar and what it comes to leave.
    height: Math.max(
      data.scenarios.length ? 280 : 320,
      Math.min(
        560,
        window.innerHeight - (data.scenarios.length ? 440 : 220) - laneHeight * data.lanes.length - (data.shares.length ? sharesHeight : 0),
      ),
    ),
    xDomain: [data.start, last],
    yMax: top,
    xUnit: `${data.unit}s`,
    time: true,
    yTitle: data.isAmount
      ? data.label
      : `${data.label} in ${data.interval === 1 ? `a ${data.unit}` : `${amount(data.interval)} ${data.unit}s`}`,
    label: data.goesOn ? `${data.label}: data until ${data.unit} ${data.now}, then the projections` : `${data.label}: the projections`,
    rightMargin: 110,
  });
  if (data.preview) {
    drawLine(at, data.preview.times, data.preview.values, 'line hue-s0 before');
    at.root.append(
      svg('text', { x: at.right - 4, y: at.top + 14, 'text-anchor': 'end', class: 'text-xs fill-mute' }, 'one run without chance'),
    );
  }
  data.scenarios.forEach((scenario, k) => {
    const column = (name: keyof Band): number[] => scenario.intervals.map(band => band[name]);
    drawBand(at, ends, column('p5'), column('p95'), `band outer hue-s${k}`);
    drawBand(at, ends, column('p25'), column('p75'), `band inner hue-s${k}`);
  });
  data.scenarios.forEach((scenario, k) =>
    drawLine(
      at,
      ends,
      scenario.intervals.map(band => band.median),
      `line hue-s${k}`,
    ),
  );
  if (withRuns)
    data.scenarios.forEach((scenario, k) => {
      for (const run of scenario.runs) drawLine(at, ends, run, `line hue-s${k} opacity-50 stroke-1`);
    });
  if (data.level !== null && data.scenarios.length) drawLevel(at, data.level);
  drawPoints(
    at,
    data.rows.map(row => ({ time: row.end, value: row.value })),
  );
  if (data.goesOn) drawNow(at, data.now);
  drawEndNames(
    at,
    data.scenarios.map((scenario, k) => ({
      text: scenario.name,
      y: at.y(scenario.intervals[scenario.intervals.length - 1]?.median ?? 0),
      className: `hue-s${k}`,
    })),
  );
  attachHover(
    at,
    time => timeName(time, data.unit),
    time => {
      const row = data.rows.find(candidate => time > candidate.start && time <= candidate.end);
      if (row) return [{ name: 'observed', value: measured(row.value, data.counted), className: '' }];
      const k = ends.findIndex((end, index) => time <= end && time > data.times[index]!);
      return k < 0
        ? []
        : data.scenarios.map((scenario, s) => ({
            name: scenario.name,
            value: measured(
              scenario.intervals[k]!.median,
              `${data.counted} (${amount(scenario.intervals[k]!.p5)}–${amount(scenario.intervals[k]!.p95)})`.trim(),
            ),
            className: `hue-s${s}`,
          }));
    },
  );
  const calendar = svg('svg', {
    width: Math.max(320, box.width),
    height: Math.max(1, data.lanes.length) * laneHeight + 4,
    class: 'chart-svg block max-w-full select-none',
    role: 'img',
    'aria-label': 'Measures over time',
  });
  drawCalendar(calendar, at, data.lanes, data.now, data.times);
  const width = Math.max(320, box.width);
  place.replaceChildren(
    at.root,
    ...(data.lanes.length ? [calendar] : []),
    ...(data.shares.length ? [drawShares(at, width, ends, data.shares, data.unit)] : []),
  );
}

export function startProjection(): void {
  draw();
  document.addEventListener('htmx:afterSettle', draw);
  document.addEventListener('dates-changed', draw);
  document.getElementById('sample-runs')?.addEventListener('change', draw);
}
