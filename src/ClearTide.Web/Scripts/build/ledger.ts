// The ledger: lines open in place and stay open over redraws; values follow the time cursor.
import { amount } from '../chart/numbers';
import { valueAt } from '../chart/marks';
import type { Run } from './run';

let openPart: string | null = null;

function show(part: string | null): void {
  openPart = part;
  for (const item of document.querySelectorAll<HTMLElement>('.line-item')) {
    const open = item.dataset.part === part;
    item.classList.toggle('open', open);
    item.querySelector('.line')?.setAttribute('aria-expanded', String(open));
    const form = item.querySelector<HTMLElement>('.line-form');
    if (form) form.hidden = !open;
  }
  for (const element of document.querySelectorAll<SVGElement>('#diagram [data-part]')) element.classList.toggle('selected', element.dataset.part === part);
}

export function openLine(part: string): void {
  show(part);
  const input = document.querySelector<HTMLInputElement>(`#form-${part} .main-field`);
  input?.focus({ preventScroll: true });
  input?.closest('.line-item')?.scrollIntoView({ block: 'nearest' });
}

/** After the server has drawn the ledger anew, the line that was open is open again. */
export function restoreOpenLine(): void {
  show(openPart !== null && document.getElementById(`line-${openPart}`) ? openPart : null);
}

export function showLedgerAt(run: Run, time: number): void {
  const clock = document.getElementById('cursor-time');
  if (clock) clock.textContent = run.times.length ? `values at ${run.unit} ${amount(time)}` : '';
  const byId = new Map(run.curves.map(curve => [curve.id, curve]));
  for (const cell of document.querySelectorAll<HTMLElement>('.line-value[data-value]')) {
    const curve = byId.get(cell.dataset.value ?? '');
    cell.textContent = curve ? amount(valueAt(run.times, curve.values, time)) : '';
  }
}

export function startLedger(root: HTMLElement): void {
  root.addEventListener('click', event => {
    const line = (event.target as Element).closest<HTMLElement>('.line');
    if (!line) return;
    const part = line.closest<HTMLElement>('.line-item')!.dataset.part!;
    if (part === openPart) show(null); else openLine(part);
  });
  root.addEventListener('keydown', event => {
    if (event.key !== 'Escape' || !(event.target as Element).closest('.line-form')) return;
    const line = (event.target as Element).closest('.line-item')?.querySelector<HTMLElement>('.line');
    show(null);
    line?.focus();
  });
}
