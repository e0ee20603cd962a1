// The picture of a fit: observed counts and what the fitted model expects of each.
import { frame } from '../chart/frame';
import { attachHover } from '../chart/hover';
import { drawLine, drawPoints } from '../chart/marks';
import { amount } from '../chart/numbers';
import { svg } from '../chart/svg';

interface FitPicture {
  label: string;
  unit: string;
  rows: { start: number; end: number; value: number }[];
  expected: number[] | null;
}

function draw(): void {
  const place = document.getElementById('fit-chart');
  const source = document.getElementById('fit-data');
  if (!place || !source) return;
  const data = JSON.parse(source.textContent ?? '{}') as FitPicture;
  if (!data.rows?.length) return;
  const box = place.getBoundingClientRect();
  const top = Math.max(1, ...data.rows.map(row => row.value), ...(data.expected ?? []));
  const at = frame({
    width: Math.max(320, box.width),
    height: Math.max(160, box.height),
    xDomain: [data.rows[0]!.start, data.rows[data.rows.length - 1]!.end * 1.02],
    yMax: top,
    xUnit: `${data.unit}s`,
    yTitle: data.label,
    label: `${data.label}: observed and expected`,
    rightMargin: 40,
  });
  if (data.expected) {
    for (const [k, row] of data.rows.entries())
      at.plot.append(
        svg('line', {
          x1: at.x(row.start),
          x2: at.x(row.end),
          y1: at.y(data.expected[k]!),
          y2: at.y(data.expected[k]!),
          class: 'stroke-ink/45 stroke-1',
        }),
      );
    drawLine(
      at,
      data.rows.map(row => row.end),
      data.expected,
      'line stroke-ink stroke-[1.6]',
    );
  }
  drawPoints(
    at,
    data.rows.map(row => ({ time: row.end, value: row.value })),
  );
  attachHover(
    at,
    time => `${data.unit} ${amount(time)}`,
    time => {
      const k = data.rows.findIndex(row => time > row.start && time <= row.end);
      return k < 0
        ? []
        : [
            { name: 'observed', value: amount(data.rows[k]!.value), className: '' },
            { name: 'expected', value: amount(data.expected?.[k]), className: '' },
          ];
    },
  );
  place.replaceChildren(at.root);
}

export function startFitChart(): void {
  draw();
  document.addEventListener('htmx:afterSettle', draw);
}
