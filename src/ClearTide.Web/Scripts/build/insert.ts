// While a formula is being typed, clicking a part in ledger or diagram inserts its symbol where an operand is still to come, and with
// Alt anywhere.
// Elsewhere a click means the part itself.

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

/** Whether a formula that was typed up to its caret waits for a name or a number there. */
export function lacksOperand(before: string): boolean {
  return /(^|[-+*/^(,<>=:;?]|\b(at|after|of|and|or|not|if|then|else))\s*$/u.test(before);
}

export function startInserting(root: HTMLElement): void {
  root.addEventListener(
    'pointerdown',
    event => {
      const field = openFormula();
      const part = (event.target as Element).closest<HTMLElement | SVGElement>('.plate, .flow, .reaction-node, .line');
      if (!field || !part || event.button !== 0 || event.ctrlKey || event.metaKey) return;
      const caret = field.selectionStart ?? field.value.length;
      const asks =
        field.value !== field.defaultValue &&
        caret === field.selectionEnd &&
        lacksOperand(field.value.slice(0, caret)) &&
        !/^\s*[\p{L}\p{N}_(]/u.test(field.value.slice(caret));
      if (!event.altKey && !asks) return;
      const id = part.dataset.part ?? part.closest<HTMLElement>('.line-item')?.dataset.part;
      const symbol = document.getElementById(`line-${id}`)?.dataset.name;
      if (!symbol || field.closest('.line-item')?.id === `line-${id}`) return;
      event.preventDefault();
      event.stopPropagation();
      insertAtCaret(field, symbol);
      // The click that follows the press would open the line.
      addEventListener(
        'click',
        click => {
          click.preventDefault();
          click.stopPropagation();
        },
        { capture: true, once: true },
      );
    },
    { capture: true },
  );
}
