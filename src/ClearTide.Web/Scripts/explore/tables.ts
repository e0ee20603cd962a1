// The numbers of a panel, as tables.
import { amount } from '../chart/numbers';
import { valueAt } from '../chart/marks';
import type { Explored, PanelData, Settings } from './data';

const mostRows = 500;

type Cell = string | number | null;

const said = (value: Cell, digits: number): string =>
  typeof value === 'string'
    ? value
    : value === null || !Number.isFinite(value)
      ? '—'
      : String(Number(value.toPrecision(digits))).replace('-', '−');

/** Numbers as a table, the first column as it is said, the others in so many digits. */
export function drawRows(place: HTMLElement, heads: string[], rows: Cell[][], digits: number, inAll = rows.length): void {
  const table = document.createElement('table'),
    head = table.createTHead().insertRow(),
    body = table.createTBody();
  table.className = 'numbers';
  for (const name of heads) {
    const cell = document.createElement('th');
    cell.scope = 'col';
    cell.textContent = name;
    head.append(cell);
  }
  for (const values of rows.slice(0, mostRows)) {
    const row = body.insertRow();
    values.forEach((value, k) => {
      row.insertCell().textContent = k === 0 && typeof value === 'number' ? amount(value) : said(value, digits);
    });
  }
  place.replaceChildren(table);
  if (inAll > Math.min(rows.length, mostRows)) place.append(`${inAll - Math.min(rows.length, mostRows)} more rows are in the files.`);
}

export const digitsOf = (settings: Settings): number => Math.min(17, Math.max(1, Number(settings.digits) || 6));

/** Numbers downwards by time, made at even times, in thin spaces and so many digits. */
export function drawTable(place: HTMLElement, explored: Explored, data: PanelData | undefined, settings: Settings): void {
  const columns = data?.columns ?? data?.terms;
  if (!columns) return;
  const times = data?.times ?? Array.from(explored.run.times);
  drawRows(
    place,
    [`time (${explored.run.units})`, ...columns.map(column => column.name)],
    times.map((time, k) => [time, ...columns.map(column => column.values[k] ?? null)]),
    digitsOf(settings),
    data?.rowsInAll,
  );
}

/** Every series of data with what was expected of each row. */
export function drawObservedTable(place: HTMLElement, explored: Explored, settings: Settings): void {
  const { run } = explored,
    times = [...new Set(run.observed.flatMap(one => one.points.map(point => point.end)))].sort((a, b) => a - b);
  drawRows(
    place,
    [
      `time (${run.units})`,
      ...run.observed.flatMap(one => ['observed', 'expected'].map(what => (run.observed.length > 1 ? `${one.label}, ${what}` : what))),
    ],
    times.map(time => [
      time,
      ...run.observed.flatMap(one => {
        const point = one.points.find(candidate => candidate.end === time);
        if (!point) return [null, null];
        const seen = point.below ? `< ${said(point.value, digitsOf(settings))}` : point.value;
        return [seen, valueAt(one.times, one.expected, time)];
      }),
    ]),
    digitsOf(settings),
  );
}
