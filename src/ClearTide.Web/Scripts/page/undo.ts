// Undo and redo by key on pages that are loaded anew with each edit; Build has its own, which stays on the page.
export function undoByKey(): void {
  document.addEventListener('keydown', event => {
    const key = event.key.toLowerCase(),
      field = event.target;
    if (!(event.ctrlKey || event.metaKey) || (key !== 'z' && key !== 'y')) return;
    // Inside a field the browser's own undo comes first, as long as the field differs from what was saved.
    if ((field instanceof HTMLInputElement || field instanceof HTMLTextAreaElement) && field.value !== field.defaultValue) return;
    event.preventDefault();
    const kind = key === 'y' || event.shiftKey ? 'redo' : 'undo';
    document.querySelector<HTMLButtonElement>(`form[data-history=${kind}] button:not([disabled])`)?.click();
  });
}
