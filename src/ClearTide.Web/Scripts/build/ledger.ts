// The ledger: lines open in place and stay open over redraws; values follow the time cursor.
import { amount } from '../chart/numbers';
import { valueAt } from '../chart/marks';
import htmx from '../page/htmx';
import { drawPoints } from './points';
import type { Run } from './run';

const holder = (): HTMLInputElement => document.querySelector<HTMLInputElement>('#open-part')!;

/** The part whose line is open, or an empty text. */
export const openPart = (): string => holder().value;

function mark(): void {
  const part = openPart();
  for (const item of document.querySelectorAll<HTMLElement>('.line-item.open')) {
    if (item.dataset.part === part) continue;
    item.classList.remove('open');
    item.querySelector('.line')?.setAttribute('aria-expanded', 'false');
    item.querySelector('.line-slot')?.replaceChildren();
  }
  const open = part === '' ? null : document.getElementById(`line-${part}`);
  open?.classList.add('open');
  open?.querySelector('.line')?.setAttribute('aria-expanded', 'true');
  const chosen = part === '' ? [] : [...document.querySelectorAll(`#diagram [data-part="${part}"]`)];
  for (const element of document.querySelectorAll('#diagram .selected')) if (!chosen.includes(element)) element.classList.remove('selected');
  for (const element of chosen) element.classList.add('selected');
  document.dispatchEvent(new CustomEvent('part-marked'));
}

export function closeLine(): void {
  holder().value = '';
  mark();
}

export async function openLine(part: string): Promise<void> {
  const slot = document.getElementById(`slot-${part}`);
  if (!slot) return;
  holder().value = part;
  mark();
  await htmx.ajax('get', `?handler=Line&partId=${encodeURIComponent(part)}`, { source: '#ledger-view', target: slot, swap: 'innerHTML' });
  drawPoints(document);
  document.dispatchEvent(new CustomEvent('part-marked'));
  slot.querySelector<HTMLElement>('.main-field')?.focus({ preventScroll: true });
  slot.closest('.line-item')?.scrollIntoView({ block: 'nearest' });
}

/** After the server has drawn the ledger anew, the line that was open is open again. */
export function restoreOpenLine(): void {
  if (openPart() !== '' && !document.getElementById(`line-${openPart()}`) && document.getElementById('ledger')) holder().value = '';
  mark();
  drawPoints(document);
}

export function showLedgerAt(run: Run, time: number): void {
  const clock = document.getElementById('cursor-time');
  if (clock) clock.textContent = run.times.length ? `${run.unit} ${amount(time)}` : '';
  const byId = new Map(run.curves.map(curve => [curve.id, curve]));
  for (const cell of document.querySelectorAll<HTMLElement>('.line-value:not([data-value=""])')) {
    const curve = byId.get(cell.dataset.value ?? '');
    const text = curve ? amount(valueAt(run.times, curve.values, time)) : '';
    if (cell.textContent !== text) cell.textContent = text;
  }
}

export function startLedger(root: HTMLElement): void {
  root.addEventListener('click', event => {
    const target = event.target as Element;
    const opener = target.closest<HTMLElement>('[data-open]');
    if (opener) {
      const parts = document.querySelector<HTMLElement>('[data-view=Parts]');
      const part = opener.dataset.open!;
      if (document.getElementById('ledger')) void openLine(part);
      else {
        parts?.click();
        document.addEventListener('htmx:afterSettle', () => void openLine(part), { once: true });
      }
      return;
    }
    const line = target.closest<HTMLElement>('.line');
    if (!line || event.defaultPrevented) return;
    const part = line.closest<HTMLElement>('.line-item')!.dataset.part!;
    if (part === openPart()) closeLine(); else void openLine(part);
  });
  root.addEventListener('keydown', event => {
    if (event.key !== 'Escape' || event.defaultPrevented || !(event.target as Element).closest('.line-form')) return;
    const line = (event.target as Element).closest('.line-item')?.querySelector<HTMLElement>('.line');
    closeLine();
    line?.focus();
  });
}
