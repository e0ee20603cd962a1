// A selection of parts, made by Shift or Ctrl and click or by key: duplicated, copied, pasted and removed together.
import { ask } from '../page/ask';
import { post } from './post';

const chosen = new Set<string>();
const marker = '"clear-tide-parts"';

/** Marks the chosen parts in ledger and diagram; those that are gone are forgotten. */
export function showSelection(): void {
  if (chosen.size === 0 && document.getElementById('selection-bar')!.hidden && !document.querySelector('.chosen')) return;
  for (const part of [...chosen]) if (!document.querySelector(`[data-part="${part}"]`)) chosen.delete(part);
  for (const element of document.querySelectorAll<HTMLElement | SVGElement>('.line-item, .plate, .flow, .reaction-node'))
    element.classList.toggle(
      'chosen',
      chosen.has(element.dataset.part ?? '') || (element.dataset.members?.split(' ').every(part => chosen.has(part)) ?? false),
    );
  const bar = document.getElementById('selection-bar')!;
  bar.hidden = chosen.size === 0;
  document.getElementById('selection-count')!.textContent = `${chosen.size} selected`;
}

/** The ids of all chosen parts. */
export const chosenParts = (): Set<string> => chosen;

/** Chooses these parts, besides those chosen before or in their place. */
export function choose(parts: string[], add: boolean): void {
  if (!add) chosen.clear();
  for (const part of parts) chosen.add(part);
  showSelection();
}

function toggle(parts: string[]): void {
  const all = parts.every(part => chosen.has(part));
  for (const part of parts)
    if (all) chosen.delete(part);
    else chosen.add(part);
  showSelection();
}

const ids = (): string => [...chosen].join(',');

async function copy(): Promise<void> {
  const answer = await ask('Parts', { partIds: ids() });
  await navigator.clipboard.writeText(await answer.text());
}

/** The quick line says by what the chosen parts are split: by a group there is, or by one to be named. */
function split(): void {
  const line = document.querySelector<HTMLInputElement>('#quick-line')!,
    names = [...chosen]
      .map(part => document.querySelector<HTMLElement>(`.line-item[data-part="${part}"]`)?.dataset.name ?? '')
      .filter(Boolean),
    group = document.querySelector<HTMLElement>('.line-item[data-group]:not([data-group=""])')?.dataset.group;
  const made = group === undefined ? 'group age = child, adult, old; ' : '';
  line.value = `${made}split ${names.length > 0 ? names.join(', ') : 'all'} by ${group ?? 'age'}`;
  line.focus();
  // What most likely is to be another word is selected.
  if (made) line.setSelectionRange(6, made.length - 2);
  line.dispatchEvent(new Event('input', { bubbles: true }));
}

async function act(what: string): Promise<void> {
  if (what === 'copy') return copy();
  if (what === 'split') return split();
  if (what === 'duplicate') await post('Duplicate', { partIds: ids() });
  if (what === 'remove') await post('Remove', { partIds: ids() });
  chosen.clear();
  showSelection();
}

const isTyping = (target: EventTarget | null): boolean =>
  target instanceof HTMLInputElement || target instanceof HTMLTextAreaElement || target instanceof HTMLSelectElement;

/** The parts that an element stands for: one, or all of a folded region. */
function partsOf(target: Element): string[] {
  const found = target.closest<HTMLElement | SVGElement>('.line-item, .plate, .flow, .reaction-node, .region');
  return found?.dataset.members?.split(' ') ?? (found?.dataset.part ? [found.dataset.part] : []);
}

export function startSelection(root: HTMLElement): void {
  root.addEventListener(
    'click',
    event => {
      const button = (event.target as Element).closest<HTMLElement>('[data-selection]');
      if (button) {
        void act(button.dataset.selection!);
        return;
      }
      const parts = partsOf(event.target as Element);
      if (parts.length === 0 || !(event.ctrlKey || event.metaKey || event.shiftKey)) return;
      event.preventDefault();
      event.stopPropagation();
      toggle(parts);
    },
    { capture: true },
  );
  document.addEventListener('keydown', event => {
    if (isTyping(event.target)) return;
    const parts = partsOf(event.target as Element);
    const command = event.ctrlKey || event.metaKey;
    if (event.key === 'x' && !command && parts.length) toggle(parts);
    else if (chosen.size === 0) return;
    else if (event.key === 'Escape') void act('clear');
    // A text, a reference or a region with the focus is what Delete means; the diagram takes it away.
    else if (event.key === 'Delete' && !(event.target as Element).closest('.paper-text, .reference, .region')) void act('remove');
    else if (command && event.key === 'd') void act('duplicate');
    else if (command && event.key === 'c' && !getSelection()?.toString()) void act('copy');
    else return;
    event.preventDefault();
  });
  document.addEventListener('paste', event => {
    const text = event.clipboardData?.getData('text') ?? '';
    if (isTyping(event.target) || text.trim() === '') return;
    event.preventDefault();
    if (text.includes(marker)) void post('Paste', { parts: text });
    else void post('Add', { text });
  });
}
