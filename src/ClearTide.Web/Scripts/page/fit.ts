// The picture of a fit: each series of data and what the fitted model expects of it, or how far they are apart.
import htmx from './htmx';
import { timeName } from '../chart/calendar';
import { frame, type Frame } from '../chart/frame';
import { attachHover, type Reading } from '../chart/hover';
import { drawBand, drawLine, drawPoints, valueAt, type Point } from '../chart/marks';
import { amount, measured } from '../chart/numbers';
import { seenAt, type DataPoint } from '../chart/points';
import { drawSteps } from '../chart/steps';
import { drawBeside, onBeside, type BesideFit } from './beside';
import { svg } from '../chart/svg';

interface FitSeries {
  /** Tells this picture from others. */
  id: string;
  /** The series it is of. */
  of: string;
  /** The subject that it shows; null for a series of one. */
  subject: string | null;
  label: string;
  /** What it is counted in; may be empty. */
  counted: string;
  /** Number of the colour of its points; 0 for ink. */
  colour: number;
  rows: DataPoint[];
  /** What the newest fit expects of each row; null where there is none, or the row was left out. */
  expected: (number | null)[] | null;
  /** What it expects between rows too, where they stand at one time each. */
  times: number[] | null;
  curve: number[] | null;
  /** For each row the 95% of what is expected and of what may be seen; null where there is no fit of this content. */
  bands: (FitBand | null)[] | null;
  /** What other fits of these data expect, to be laid beside. */
  beside: BesideFit[];
  /** Samples that would tell most, where they would be taken. */
  next: { start: number; end: number; value: number }[];
}

interface TriedSeries {
  id: string;
  expected: (number | null)[] | null;
  times: number[] | null;
  curve: number[] | null;
}

/** What the server says of values that are tried. */
export interface FitTrial {
  words: string;
  series: TriedSeries[];
}

interface FitBand {
  meanLow: number;
  meanHigh: number;
  low: number;
  high: number;
}

/** Residuals against the normal law, and against those before them. */
interface FitChecks {
  label: string;
  quantiles: [number, number][];
  /** From a lag of one on. */
  lags: number[];
  /** Where 95% of these lie if there is nothing in them. */
  within: number;
}

interface FitPicture {
  checks: FitChecks[];
  unit: string;
  /** Where the model starts. */
  start: number;
  series: FitSeries[];
}

/** A row stands in the middle of its interval. */
const middle = (row: DataPoint): number => 0.5 * (row.start + row.end);

/** A point that is clicked is left out of fits, or taken back. */
const leave = (series: string, row: number): void =>
  void htmx.ajax('post', '?handler=Point', {
    source: '#fit-status',
    target: '#fit-status',
    swap: 'innerHTML',
    values: { version: document.querySelector<HTMLInputElement>('#version')!.value, observation: series, row: String(row) },
  });

/** The rows of a series as points that can be clicked, and what is read at the pointer. */
function drawRows({ of, rows, colour }: FitSeries, at: Frame, points: Point[], unit: string, read: (time: number) => Reading[]): void {
  drawPoints(
    at,
    points.map((point, k) => ({ ...point, from: { series: of, row: rows[k]!.row } })),
    colour ? `hue-c${colour}` : 'stroke-ink',
    leave,
  );
  attachHover(at, time => timeName(time, unit), read);
}

/** What is expected at values that are tried; null where none are. */
let trial: FitTrial | null = null;

const tried = (one: FitSeries): TriedSeries | undefined => trial?.series.find(({ id }) => id === one.id);

/** What is expected with values that are tried, dashed over all else. */
function drawTrial(at: Frame, one: FitSeries): void {
  const { expected, times, curve } = tried(one) ?? {};
  if (!expected) return;
  const className = 'line stroke-coral stroke-[1.6] [stroke-dasharray:5_3]';
  if (times && curve) drawLine(at, times, curve, className);
  else drawSteps(at, one.rows, expected, className);
}

/** How far each row is from what is expected of it, about a line at zero; a row below a limit where less is expected is at zero. */
function drawResiduals(one: FitSeries, unit: string, span: [number, number], width: number, height: number): SVGSVGElement {
  const { label, rows } = one,
    expected = tried(one)?.expected ?? one.expected;
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
    yTitle: one.subject ?? `${label}: observed minus expected`,
    label: `${nameOf(one)}: residuals`,
    rightMargin: 40,
  });
  at.plot.append(svg('line', { x1: at.left, x2: at.right, y1: at.y(0), y2: at.y(0), class: 'stroke-ink/45 stroke-1' }));
  drawRows(
    one,
    at,
    // A row that is left out has no expectation: it stands at zero, dotted, so that it can be taken back.
    rows.map((row, k) => ({ time: middle(row), value: apart[k] ?? 0, error: row.error, out: apart[k] === null })),
    unit,
    time => {
      const k = rows.reduce((best, row, j) => (Math.abs(row.end - time) < Math.abs(rows[best]!.end - time) ? j : best), 0);
      return apart[k] == null ? [] : [{ name: 'observed minus expected', value: measured(apart[k], one.counted), className: '' }];
    },
  );
  return at.root;
}

/** Bands of rows in steps over their intervals, or along the rows where these stand at one time each. */
function drawBands(at: Frame, { rows, bands, times }: FitSeries): void {
  const banded = rows.flatMap((row, k) => (bands?.[k] ? [{ row, band: bands[k] }] : []));
  const both = [
    ['low', 'high', 'fill-tide/12'],
    ['meanLow', 'meanHigh', 'fill-tide/25'],
  ] as const;
  const strides = banded.slice(1).map(({ row }, k) => row.end - banded[k]!.row.end),
    usual = [...strides].sort((a, b) => a - b)[strides.length >> 1] ?? 0;
  for (const [low, high, className] of both) {
    if (times) {
      // Where no rows were for long, no band is drawn across.
      const parts: (typeof banded)[] = [[]];
      banded.forEach((one, k) => {
        if (k > 0 && strides[k - 1]! > 2.5 * usual) parts.push([]);
        parts[parts.length - 1]!.push(one);
      });
      for (const part of parts)
        drawBand(
          at,
          part.map(({ row }) => row.end),
          part.map(({ band }) => band[low]),
          part.map(({ band }) => band[high]),
          className,
        );
    } else
      for (const { row, band } of banded)
        at.plot.append(
          svg('rect', {
            x: at.x(row.start),
            width: Math.max(1, at.x(row.end) - at.x(row.start)),
            y: at.y(band[high]),
            height: Math.max(0, at.y(band[low]) - at.y(band[high])),
            class: className,
          }),
        );
  }
}

/** Where a further sample would tell most: a diamond where it would likely lie. */
function drawNext(at: Frame, { next }: FitSeries, unit: string): void {
  for (const { start, end, value } of next) {
    const x = at.x(0.5 * (start + end)),
      y = Math.max(at.top, Math.min(at.bottom, at.y(value)));
    // Where it lies beyond the axis, an arrow says so.
    const shape = at.y(value) < at.top ? `M${x - 5} ${y + 4}l5 -8l5 8z` : `M${x} ${y - 5}l5 5l-5 5l-5 -5z`;
    const mark = svg('path', { d: shape, class: 'fill-sheet stroke-tide stroke-[1.4]' });
    mark.append(svg('title', {}, `to measure next: ${timeName(end, unit)}, about ${amount(value)}`));
    at.root.append(mark);
  }
}

/** What is expected of the row at a time, or along the curve there. */
function expectedAt(
  { rows }: FitSeries,
  expected: (number | null)[] | null,
  times: number[] | null,
  curve: number[] | null,
  time: number,
): number | null {
  const k = rows.findIndex(row => time > row.start && time <= row.end);
  if (k >= 0) return expected?.[k] ?? null;
  return times && curve ? valueAt(times, curve, time) : null;
}

/** How the picture is spoken of. */
const nameOf = ({ label, subject }: FitSeries): string => (subject === null ? label : `${label}, ${subject}`);

/** How high the rows and what is expected of them reach. */
const reach = ({ rows, expected, curve }: FitSeries): number =>
  Math.max(...rows.map(row => row.value + (row.error ?? 0)), ...(expected ?? []).map(value => value ?? 0), ...(curve ?? []));

/** @param highest What the axis reaches at least: subjects beside one another share theirs. */
function drawSeries(one: FitSeries, unit: string, span: [number, number], width: number, height: number, highest: number): SVGSVGElement {
  const { rows, expected, times, curve } = one;
  const top = Math.max(highest, ...rows.map(row => row.value + (row.error ?? 0)), ...(expected ?? []).map(value => value ?? 0)),
    // What may be seen is shown as far as it does not make all else small.
    values = [
      top,
      ...(one.bands ?? []).map(band => Math.min(band?.high ?? 0, 1.6 * top)),
      ...one.next.map(({ value }) => Math.min(value, 1.6 * top)),
    ],
    known = rows.map((row, k) => ({ row, mean: expected?.[k] ?? null })).filter(({ mean }) => mean !== null);
  const at = frame({
    width,
    height,
    xDomain: span,
    yMax: Math.max(...values),
    yMin: Math.min(0, ...rows.map(row => row.value)),
    xUnit: `${unit}s`,
    time: true,
    yTitle: one.subject ?? one.label,
    label: `${nameOf(one)}: observed and expected`,
    rightMargin: one.subject === null ? 40 : 24,
  });
  drawBands(at, one);
  if (known.length) {
    if (times && curve) drawLine(at, times, curve, 'line stroke-ink stroke-[1.6]');
    else drawSteps(at, rows, expected!, 'line stroke-ink stroke-[1.6]');
  }
  drawBeside(at, one.rows, one.beside);
  drawTrial(at, one);
  drawNext(at, one, unit);
  drawRows(
    one,
    at,
    rows.map(row => ({ ...row, time: middle(row) })),
    unit,
    time => {
      const seen = seenAt(rows, time, one.counted);
      return seen === '—'
        ? []
        : [
            { name: 'observed', value: seen, className: '' },
            {
              name: 'expected',
              value: measured(expectedAt(one, expected, times, curve, time), one.counted),
              className: '',
            },
            ...(tried(one)
              ? [
                  {
                    name: 'with values tried',
                    value: measured(expectedAt(one, tried(one)!.expected, tried(one)!.times, tried(one)!.curve, time), one.counted),
                    className: '',
                  },
                ]
              : []),
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
  const { series, unit, start, checks } = JSON.parse(source.textContent ?? '{}') as FitPicture;
  const drawn = series.filter(one => one.rows.length > 0);
  if (drawn.length === 0) return;
  const box = place.getBoundingClientRect(),
    width = Math.max(320, box.width),
    small = drawn.some(one => one.subject !== null),
    columns = small ? Math.max(1, Math.min(drawn.length, Math.floor(width / 190))) : 1,
    height = small ? 150 : Math.max(160, 330 / drawn.length);
  // One stretch of time for all, so that what happens at once stands above one another.
  const rows = drawn.flatMap(one => one.rows),
    first = Math.min(...rows.map(row => row.start)),
    until = Math.max(...rows.map(row => row.end), ...drawn.flatMap(one => one.next.map(({ end }) => end)));
  // From where the model starts, unless the rows are far from there.
  const from = first > start && first - start < 0.3 * (until - start) ? start : first,
    span: [number, number] = [from, until + 0.02 * (until - from)];
  const apart = residuals()?.checked === true,
    each = width / columns;
  // Subjects of one series stand beside one another, under its name.
  place.style.gridTemplateColumns = small ? `repeat(${columns}, minmax(0, 1fr))` : '';
  place.classList.toggle('grid', small);
  place.replaceChildren(
    ...drawn.flatMap((one, k) => {
      const highest = one.subject === null ? -Infinity : Math.max(...drawn.filter(({ of }) => of === one.of).map(reach));
      const picture =
        apart && (tried(one)?.expected ?? one.expected)
          ? drawResiduals(one, unit, span, each, height)
          : drawSeries(one, unit, span, each, height, highest);
      return one.subject !== null && drawn[k - 1]?.of !== one.of ? [heading(one.label), picture] : [picture];
    }),
    ...(apart ? checks.flatMap(one => [drawQuantiles(one, width / 2), drawLags(one, width / 2)]) : []),
  );
}

/** Residuals from low to high against those of a normal law: on the line where law and model are right. */
function drawQuantiles({ label, quantiles }: FitChecks, width: number): SVGSVGElement {
  const most = Math.max(2, ...quantiles.flat().map(Math.abs));
  const at = frame({
    width,
    height: 190,
    xDomain: [-most, most],
    yMin: -most,
    yMax: most,
    xUnit: 'expected',
    yTitle: `${label}: residuals in order`,
    label: `${label}: residuals against the normal law`,
    rightMargin: 30,
  });
  at.root.classList.add('inline-block');
  drawLine(at, [-most, most], [-most, most], 'line stroke-edge');
  for (const [x, y] of quantiles)
    at.plot.append(svg('circle', { cx: at.x(x), cy: at.y(y), r: 2.6, class: 'fill-sheet stroke-ink stroke-[1.2]' }));
  return at.root;
}

/** How far residuals go with those before them; between the dashed lines there is nothing in it. */
function drawLags({ label, lags, within }: FitChecks, width: number): SVGSVGElement {
  const at = frame({
    width,
    height: 190,
    xDomain: [0, Math.max(2, lags.length + 1)],
    yMin: -1,
    yMax: 1,
    xUnit: 'rows apart',
    yTitle: `${label}: autocorrelation`,
    label: `${label}: autocorrelation of the residuals`,
    rightMargin: 50,
  });
  at.root.classList.add('inline-block');
  at.plot.append(svg('line', { x1: at.left, x2: at.right, y1: at.y(0), y2: at.y(0), class: 'stroke-ink/45' }));
  for (const edge of [within, -within])
    at.plot.append(
      svg('line', { x1: at.left, x2: at.right, y1: at.y(edge), y2: at.y(edge), class: 'stroke-coral [stroke-dasharray:4_3]' }),
    );
  lags.forEach((value, k) =>
    at.plot.append(svg('line', { x1: at.x(k + 1), x2: at.x(k + 1), y1: at.y(0), y2: at.y(value), class: 'stroke-ink stroke-[3]' })),
  );
  return at.root;
}

function heading(label: string): HTMLElement {
  const words = document.createElement('p');
  words.className = 'col-span-full m-0 text-note font-semibold';
  words.textContent = `${label}, subject by subject`;
  return words;
}

/** Draws what is expected at values that are tried; null for no more of it. */
export function showTrial(now: FitTrial | null): void {
  trial = now;
  draw();
}

export function startFitChart(): void {
  draw();
  residuals()?.addEventListener('change', draw);
  onBeside(draw);
  document.addEventListener('htmx:afterSettle', draw);
  document.addEventListener('dates-changed', draw);
}
