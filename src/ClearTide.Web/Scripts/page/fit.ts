// The picture of a fit: each series of data and what the fitted model expects of it.
import { frame } from '../chart/frame';
import { attachHover } from '../chart/hover';
import { drawLine, drawPoints, valueAt } from '../chart/marks';
import { amount } from '../chart/numbers';
import { seenAt, type DataPoint } from '../chart/points';
import { svg } from '../chart/svg';

interface FitSeries {
  label: string;
  rows: DataPoint[];
  /** What the newest fit expects of each row; null where there is none, or the row was left out. */
  expected: (number | null)[] | null;
  /** What it expects between rows too, where they stand at one time each. */
  times: number[] | null;
  curve: number[] | null;
}

interface FitPicture {
  unit: string;
  series: FitSeries[];
}

function drawSeries(
  { label, rows, expected, times, curve }: FitSeries,
  unit: string,
  span: [number, number],
  width: number,
  height: number,
): SVGSVGElement {
  const values = [...rows.map(row => row.value + (row.error ?? 0)), ...(expected ?? []).map(value => value ?? 0)],
    known = rows.map((row, k) => ({ row, mean: expected?.[k] ?? null })).filter(({ mean }) => mean !== null);
  const at = frame({
    width,
    height,
    xDomain: span,
    yMax: Math.max(...values),
    yMin: Math.min(0, ...rows.map(row => row.value)),
    xUnit: `${unit}s`,
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
  drawPoints(
    at,
    rows.map(row => ({ ...row, time: row.end })),
  );
  attachHover(
    at,
    time => `${unit} ${amount(time)}`,
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

/** The series one below the other, in the room that there is and no lower than can be read. */
function draw(): void {
  const place = document.getElementById('fit-chart');
  const source = document.getElementById('fit-data');
  if (!place || !source) return;
  const { series, unit } = JSON.parse(source.textContent ?? '{}') as FitPicture;
  const drawn = series.filter(one => one.rows.length > 0);
  if (drawn.length === 0) return;
  const box = place.getBoundingClientRect(),
    height = Math.max(160, 330 / drawn.length);
  // One stretch of time for all, so that what happens at once stands above one another.
  const rows = drawn.flatMap(one => one.rows),
    from = Math.min(...rows.map(row => row.start)),
    until = Math.max(...rows.map(row => row.end));
  const span: [number, number] = [from, until + 0.02 * (until - from)];
  place.replaceChildren(...drawn.map(one => drawSeries(one, unit, span, Math.max(320, box.width), height)));
}

export function startFitChart(): void {
  draw();
  document.addEventListener('htmx:afterSettle', draw);
}
