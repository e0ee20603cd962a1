// The picture of a fit: each series of data and what the fitted model expects of it, or how far they are apart.
import htmx from './htmx';
import { timeName } from '../chart/calendar';
import { frame, type Frame } from '../chart/frame';
import { attachHover, type Reading } from '../chart/hover';
import { drawLine, drawPoints, valueAt, type Point } from '../chart/marks';
import { amount } from '../chart/numbers';
import { seenAt, type DataPoint } from '../chart/points';
import { svg } from '../chart/svg';

/** A row with its place among all rows of its series: of many, not all are shown. */
interface FitRow extends DataPoint {
  place: number;
}

interface FitSeries {
  id: string;
  label: string;
  rows: FitRow[];
  /** What the newest fit expects of each row; null where there is none, or the row was left out. */
  expected: (number | null)[] | null;
  /** What it expects between rows too, where they stand at one time each. */
  times: number[] | null;
  curve: number[] | null;
}

interface FitPicture {
  unit: string;
  /** Where the model starts. */
  start: number;
  series: FitSeries[];
}

/** A point that is clicked is left out of fits, or taken back. */
const leave = (series: string, rows: FitRow[]) => (shown: number) =>
  void htmx.ajax('post', '?handler=Point', {
    source: '#fit-status',
    target: '#fit-status',
    swap: 'innerHTML',
    values: { version: document.querySelector<HTMLInputElement>('#version')!.value, observation: series, row: String(rows[shown]!.place) },
  });

/** The rows of a series as points that can be clicked, and what is read at the pointer. */
function drawRows({ id, rows }: FitSeries, at: Frame, points: Point[], unit: string, read: (time: number) => Reading[]): void {
  drawPoints(at, points, 'stroke-ink', leave(id, rows));
  attachHover(at, time => timeName(time, unit), read);
}

/** How far each row is from what is expected of it, about a line at zero; a row below a limit where less is expected is at zero. */
function drawResiduals(one: FitSeries, unit: string, span: [number, number], width: number, height: number): SVGSVGElement {
  const { label, rows, expected } = one;
  const apart = rows.map((row, k) => (expected?.[k] == null ? null : row.below && expected[k] < row.value ? 0 : row.value - expected[k])),
    most = Math.max(1e-12, ...apart.map((value, k) => Math.abs(value ?? 0) + (rows[k]!.error ?? 0)));
  const at = frame({
    width,
    height,
    xDomain: span,
    yMax: most,
    yMin: -most,
    xUnit: `${unit}s`,
    time: true,
    yTitle: `${label}: observed less expected`,
    label: `${label}: residuals`,
    rightMargin: 40,
  });
  at.plot.append(svg('line', { x1: at.left, x2: at.right, y1: at.y(0), y2: at.y(0), class: 'stroke-ink/45 stroke-1' }));
  drawRows(
    one,
    at,
    // A row that is left out has no expectation: it stands at zero, dotted, so that it can be taken back.
    rows.map((row, k) => ({ time: row.end, value: apart[k] ?? 0, error: row.error, out: apart[k] === null })),
    unit,
    time => {
      const k = rows.reduce((best, row, j) => (Math.abs(row.end - time) < Math.abs(rows[best]!.end - time) ? j : best), 0);
      return apart[k] == null ? [] : [{ name: 'observed less expected', value: amount(apart[k]), className: '' }];
    },
  );
  return at.root;
}

function drawSeries(one: FitSeries, unit: string, span: [number, number], width: number, height: number): SVGSVGElement {
  const { label, rows, expected, times, curve } = one;
  const values = [...rows.map(row => row.value + (row.error ?? 0)), ...(expected ?? []).map(value => value ?? 0)],
    known = rows.map((row, k) => ({ row, mean: expected?.[k] ?? null })).filter(({ mean }) => mean !== null);
  const at = frame({
    width,
    height,
    xDomain: span,
    yMax: Math.max(...values),
    yMin: Math.min(0, ...rows.map(row => row.value)),
    xUnit: `${unit}s`,
    time: true,
    yTitle: label,
    label: `${label}: observed and expected`,
    rightMargin: 40,
  });
  if (known.length) {
    for (const { row, mean } of known)
      at.plot.append(
        svg('line', { x1: at.x(row.start), x2: at.x(row.end), y1: at.y(mean!), y2: at.y(mean!), class: 'stroke-ink/45 stroke-1' }),
      );
    drawLine(at, times ?? known.map(({ row }) => row.end), curve ?? known.map(({ mean }) => mean), 'line stroke-ink stroke-[1.6]');
  }
  drawRows(
    one,
    at,
    rows.map(row => ({ ...row, time: row.end })),
    unit,
    time => {
      const seen = seenAt(rows, time);
      return seen === '—'
        ? []
        : [
            { name: 'observed', value: seen, className: '' },
            {
              name: 'expected',
              value: amount(
                valueAt(
                  known.map(({ row }) => row.end),
                  known.map(({ mean }) => mean),
                  time,
                ),
              ),
              className: '',
            },
          ];
    },
  );
  return at.root;
}

const residuals = (): HTMLInputElement | null => document.querySelector<HTMLInputElement>('#residuals');

/** The series one below the other, in the room that there is and no lower than can be read. */
function draw(): void {
  const place = document.getElementById('fit-chart');
  const source = document.getElementById('fit-data');
  if (!place || !source) return;
  const { series, unit, start } = JSON.parse(source.textContent ?? '{}') as FitPicture;
  const drawn = series.filter(one => one.rows.length > 0);
  if (drawn.length === 0) return;
  const box = place.getBoundingClientRect(),
    height = Math.max(160, 330 / drawn.length);
  // One stretch of time for all, so that what happens at once stands above one another.
  const rows = drawn.flatMap(one => one.rows),
    first = Math.min(...rows.map(row => row.start)),
    until = Math.max(...rows.map(row => row.end));
  // From where the model starts, unless the rows are far from there.
  const from = first > start && first - start < 0.3 * (until - start) ? start : first,
    span: [number, number] = [from, until + 0.02 * (until - from)];
  const apart = residuals()?.checked === true,
    width = Math.max(320, box.width);
  place.replaceChildren(
    ...drawn.map(one =>
      apart && one.expected ? drawResiduals(one, unit, span, width, height) : drawSeries(one, unit, span, width, height),
    ),
  );
}

export function startFitChart(): void {
  draw();
  residuals()?.addEventListener('change', draw);
  document.addEventListener('htmx:afterSettle', draw);
  document.addEventListener('dates-changed', draw);
}
