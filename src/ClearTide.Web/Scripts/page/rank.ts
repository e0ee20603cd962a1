// A table whose groups of rows are ranked by a column: by the button in its head from the least on, then from the most on, then in the
// order in which they were written. A table that is drawn anew, or with its page, keeps its rank in this tab.
type Rank = { column: number; down: boolean };

const keyOf = (table: HTMLTableElement): string => `clear-tide rank ${location.pathname} ${table.id}`;

const rankOf = (table: HTMLTableElement): Rank | null => JSON.parse(sessionStorage.getItem(keyOf(table)) ?? 'null') as Rank | null;

/** The number that a group of rows has in a column, in its first row; not a number where it has none. */
const numberOf = (group: HTMLTableSectionElement, column: number): number =>
  Number.parseFloat(group.rows[0]?.cells[column]?.dataset.number ?? 'NaN');

function order(table: HTMLTableElement): void {
  const rank = rankOf(table),
    groups = [...table.tBodies];
  groups.forEach((group, place) => (group.dataset.place ??= String(place)));
  const written = (group: HTMLElement): number => Number(group.dataset.place);
  groups.sort((one, other) => {
    const [a, b] = rank ? [numberOf(one, rank.column), numberOf(other, rank.column)] : [0, 0];
    // What has no number stands last, whichever way.
    if (Number.isNaN(a) || Number.isNaN(b)) return Number(Number.isNaN(a)) - Number(Number.isNaN(b)) || written(one) - written(other);
    return (rank?.down ? b - a : a - b) || written(one) - written(other);
  });
  if (groups.some((group, place) => table.tBodies[place] !== group)) table.append(...groups);
  for (const [column, head] of [...(table.tHead?.rows[0]?.cells ?? [])].entries())
    if (column === rank?.column) head.setAttribute('aria-sort', rank.down ? 'descending' : 'ascending');
    else head.removeAttribute('aria-sort');
}

const all = (): void => document.querySelectorAll<HTMLTableElement>('table[data-ranked]').forEach(order);

document.addEventListener('click', event => {
  const head = (event.target as Element).closest<HTMLButtonElement>('button[data-ranks]')?.closest('th'),
    table = head?.closest('table');
  if (!head || !table) return;
  const before = rankOf(table),
    again = before?.column === head.cellIndex;
  if (again && before.down) sessionStorage.removeItem(keyOf(table));
  else sessionStorage.setItem(keyOf(table), JSON.stringify({ column: head.cellIndex, down: again }));
  order(table);
});
document.addEventListener('htmx:afterSettle', all);
all();
