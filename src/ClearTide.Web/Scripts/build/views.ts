// What stands around the ledger: its filter box, its views, and taking it away as text or print.
import htmx from '../page/htmx';

/** Shows the lines whose symbol, label or note holds what is typed. */
export function applyFilter(): void {
  const wanted = document.querySelector<HTMLInputElement>('#ledger-filter')?.value.trim().toLowerCase() ?? '';
  if (wanted === '' && !document.querySelector('.ledger [hidden]')) return;
  for (const item of document.querySelectorAll<HTMLElement>('.line-item'))
    item.hidden = wanted !== '' && !(item.dataset.search ?? '').includes(wanted);
  for (const list of document.querySelectorAll<HTMLElement>('.ledger > ul')) {
    const none = ![...list.children].some(item => !(item as HTMLElement).hidden);
    list.hidden = none;
    const heading = list.previousElementSibling as HTMLElement | null;
    if (heading) heading.hidden = none;
  }
}

async function copy(button: HTMLElement): Promise<void> {
  const answer = await fetch(`?handler=Copy&form=${button.dataset.copy}`);
  await navigator.clipboard.writeText(await answer.text());
  // Of two clicks in a row the second finds the answer to the first on the button.
  const words = (button.dataset.words ??= button.textContent ?? '');
  button.textContent = 'copied';
  setTimeout(() => {
    button.textContent = words;
  }, 1200);
}

export function startViews(root: HTMLElement): void {
  root.querySelector('#ledger-filter')?.addEventListener('input', applyFilter);
  root.addEventListener('click', event => {
    const target = event.target as Element;
    const view = target.closest<HTMLElement>('[data-view]');
    if (view) {
      root.querySelector<HTMLInputElement>('#ledger-view')!.value = view.dataset.view!;
      for (const button of root.querySelectorAll('[data-view]')) button.setAttribute('aria-pressed', String(button === view));
      void htmx.ajax('get', '?handler=Workspace', { source: '#diagram-pane', target: '#workspace', swap: 'morph:outerHTML' });
    }
    const copied = target.closest<HTMLElement>('[data-copy]');
    if (copied) void copy(copied);
    if (target.closest('[data-print]')) print();
  });
}
