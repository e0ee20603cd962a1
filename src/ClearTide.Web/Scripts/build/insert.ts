// While a formula is being changed, clicking a part in ledger or diagram inserts its symbol at the caret.

/** The formula field that has the focus, or null. */
export function openFormula(): HTMLInputElement | null {
  const field = document.activeElement;
  return field instanceof HTMLInputElement && field.classList.contains('formula') ? field : null;
}

export function insertAtCaret(field: HTMLInputElement, text: string): void {
  const [start, end] = [field.selectionStart ?? field.value.length, field.selectionEnd ?? field.value.length];
  // A name never runs into another.
  const before = /[\p{L}\p{N}_]$/u.test(field.value.slice(0, start)) ? ' ' : '';
  field.setRangeText(before + text, start, end, 'end');
  field.dispatchEvent(new Event('input', { bubbles: true }));
}

export function startInserting(root: HTMLElement): void {
  root.addEventListener('pointerdown', event => {
    const field = openFormula();
    const part = (event.target as Element).closest<HTMLElement | SVGElement>('.plate, .flow, .knot, .line');
    if (!field || !part || event.button !== 0 || event.ctrlKey || event.metaKey) return;
    // A click means the part itself until the formula has been touched; with Alt it always means its symbol.
    if (!event.altKey && field.value === field.defaultValue) return;
    const id = part.dataset.part ?? part.closest<HTMLElement>('.line-item')?.dataset.part;
    const symbol = document.getElementById(`line-${id}`)?.dataset.name;
    if (!symbol || field.closest('.line-item')?.id === `line-${id}`) return;
    event.preventDefault();
    event.stopPropagation();
    insertAtCaret(field, symbol);
    // The click that follows the press would open the line.
    addEventListener('click', click => { click.preventDefault(); click.stopPropagation(); }, { capture: true, once: true });
  }, { capture: true });
}
