// A selection of parts, made by Ctrl and click or by key: duplicated, copied, pasted and removed together.
import htmx from '../page/htmx';

const chosen = new Set<string>();
const marker = '"clear-tide-parts"';

/** Marks the chosen parts in ledger and diagram; those that are gone are forgotten. */
export function showSelection(): void {
  if (chosen.size === 0 && document.getElementById('selection-bar')!.hidden && !document.querySelector('.chosen')) return;
  for (const part of [...chosen]) if (!document.querySelector(`[data-part="${part}"]`)) chosen.delete(part);
  for (const element of document.querySelectorAll<HTMLElement | SVGElement>('.line-item, .plate, .flow')) element.classList.toggle('chosen', chosen.has(element.dataset.part ?? ''));
  const bar = document.getElementById('selection-bar')!;
  bar.hidden = chosen.size === 0;
  document.getElementById('selection-count')!.textContent = `${chosen.size} selected`;
}

function toggle(part: string): void {
  if (!chosen.delete(part)) chosen.add(part);
  showSelection();
}

const post = (handler: string, values: Record<string, string>): Promise<void> =>
  htmx.ajax('post', `?handler=${handler}`, { source: '#diagram-pane', target: '#workspace', swap: 'morph:outerHTML', values });

const ids = (): string => [...chosen].join(',');

async function copy(): Promise<void> {
  const answer = await fetch(`?handler=Parts&partIds=${encodeURIComponent(ids())}`);
  await navigator.clipboard.writeText(await answer.text());
}

async function act(what: string): Promise<void> {
  if (what === 'copy') return copy();
  if (what === 'duplicate') await post('Duplicate', { partIds: ids() });
  if (what === 'remove') await post('Remove', { partIds: ids() });
  chosen.clear();
  showSelection();
}

const isTyping = (target: EventTarget | null): boolean => target instanceof HTMLInputElement || target instanceof HTMLTextAreaElement || target instanceof HTMLSelectElement;

const partOf = (target: Element): string | undefined => target.closest<HTMLElement | SVGElement>('.line-item, .plate, .flow')?.dataset.part;

export function startSelection(root: HTMLElement): void {
  root.addEventListener('click', event => {
    const button = (event.target as Element).closest<HTMLElement>('[data-selection]');
    if (button) {
      void act(button.dataset.selection!);
      return;
    }
    const part = partOf(event.target as Element);
    if (!part || !(event.ctrlKey || event.metaKey)) return;
    event.preventDefault();
    event.stopPropagation();
    toggle(part);
  }, { capture: true });
  document.addEventListener('keydown', event => {
    if (isTyping(event.target)) return;
    const part = partOf(event.target as Element);
    const command = event.ctrlKey || event.metaKey;
    if (event.key === 'x' && !command && part) toggle(part);
    else if (chosen.size === 0) return;
    else if (event.key === 'Escape') void act('clear');
    else if (event.key === 'Delete') void act('remove');
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
