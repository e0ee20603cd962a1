// Lines change places in the ledger by button or by Alt and an arrow key.
import htmx from '../page/htmx';

async function move(item: HTMLElement, down: boolean): Promise<void> {
  const other = down ? item.nextElementSibling?.nextElementSibling : item.previousElementSibling;
  if (down ? !item.nextElementSibling : !other) return;
  const before = other instanceof HTMLElement ? (other.dataset.part ?? '') : '';
  await htmx.ajax('post', '?handler=Reorder', {
    source: '#diagram-pane',
    target: '#workspace',
    swap: 'morph:outerHTML',
    values: { partId: item.dataset.part!, beforeId: before },
  });
  document.querySelector<HTMLElement>(`#line-${item.dataset.part} .line`)?.focus();
}

export function startReordering(root: HTMLElement): void {
  root.addEventListener('click', event => {
    const button = (event.target as Element).closest<HTMLElement>('[data-move]');
    if (button) void move(button.closest<HTMLElement>('.line-item')!, button.dataset.move === 'down');
  });
  root.addEventListener('keydown', event => {
    const item = (event.target as Element).closest<HTMLElement>('.line-item');
    if (!item || !event.altKey || (event.key !== 'ArrowUp' && event.key !== 'ArrowDown')) return;
    event.preventDefault();
    void move(item, event.key === 'ArrowDown');
  });
}
