// The ledger: lines open in place and stay open over redraws; values follow the time cursor.
import { amount } from '../chart/numbers';
import { valueAt } from '../chart/marks';
import htmx from '../page/htmx';
import { drawPoints } from './points';
import { allCurves, type Run } from './run';

const holder = (): HTMLInputElement => document.querySelector<HTMLInputElement>('#open-part')!;

/** The part whose line is open, or an empty text. */
export const openPart = (): string => holder().value;

/** What was typed into a line's field and not kept yet is kept before the line goes. */
function keepTyped(): void {
  const field = document.activeElement;
  if (field instanceof HTMLElement && field.closest('.line-form')) field.blur();
}

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
  for (const element of document.querySelectorAll('#diagram .selected'))
    if (!chosen.includes(element)) element.classList.remove('selected');
  for (const element of chosen) element.classList.add('selected');
  document.dispatchEvent(new CustomEvent('part-marked'));
}

export function closeLine(): void {
  keepTyped();
  holder().value = '';
  mark();
}

/** The caret goes to the line's field, and all of it is selected: what is typed takes its place. */
function enter(slot: HTMLElement): void {
  const field = slot.querySelector<HTMLInputElement | HTMLTextAreaElement>('.main-field');
  field?.focus({ preventScroll: true });
  if (field && field.value.length < 200) field.select();
}

/** The part whose form is on its way and takes the caret when it comes. */
let entering = '';

/** The part whose form was asked for last. */
let asked = '';

/**
 * Opens a line, to be typed into, or only to be read: then the keys stay with what has the focus.
 * @param typing whether the caret goes into its field
 */
export async function openLine(part: string, typing = true): Promise<void> {
  const slot = document.getElementById(`slot-${part}`);
  if (!slot) return;
  if (part === openPart() && document.getElementById(`form-${part}`)) {
    if (typing) enter(slot);
    return;
  }
  // It is on its way already.
  if (part === openPart() && slot.childElementCount === 0 && asked === part) {
    if (typing) entering = part;
    return;
  }
  asked = part;
  keepTyped();
  holder().value = part;
  mark();
  entering = typing ? part : '';
  await htmx.ajax('get', `?handler=Line&partId=${encodeURIComponent(part)}`, { source: '#ledger-view', target: slot, swap: 'innerHTML' });
}

/** A line's form has come. Not when its request returns, which is at once where it has to wait for another. */
function formCame(slot: HTMLElement): void {
  const part = slot.id.slice('slot-'.length);
  // Another part may have been opened meanwhile.
  if (part !== openPart()) return;
  drawPoints(document);
  document.dispatchEvent(new CustomEvent('part-marked'));
  asked = '';
  if (entering === part) enter(slot);
  entering = '';
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
  const byId = new Map(allCurves(run).map(curve => [curve.id, curve]));
  for (const cell of document.querySelectorAll<HTMLElement>('.line-value:not([data-value=""])')) {
    const curve = byId.get(cell.dataset.value ?? '');
    const text = curve ? amount(valueAt(run.times, curve.values, time)) : '';
    if (cell.textContent !== text) cell.textContent = text;
  }
}

export function startLedger(root: HTMLElement): void {
  // Whoever presses elsewhere meanwhile has moved on.
  addEventListener(
    'pointerdown',
    () => {
      entering = '';
    },
    { capture: true },
  );
  root.addEventListener('htmx:afterSettle', event => {
    const slot = (event as CustomEvent).detail.target as HTMLElement | undefined;
    if (slot?.id?.startsWith('slot-')) formCame(slot);
  });
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
    if (part === openPart()) closeLine();
    else void openLine(part);
  });
  root.addEventListener('keydown', event => {
    if (event.key !== 'Escape' || event.defaultPrevented || !(event.target as Element).closest('.line-form')) return;
    const line = (event.target as Element).closest('.line-item')?.querySelector<HTMLElement>('.line');
    // Escape drops what was typed.
    if (event.target instanceof HTMLInputElement) event.target.value = event.target.defaultValue;
    closeLine();
    line?.focus();
  });
}
