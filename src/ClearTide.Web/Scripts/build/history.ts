// Undo and redo by key and by button, without leaving the page.
import htmx from '../page/htmx';

function move(handler: 'Undo' | 'Redo'): void {
  void htmx.ajax('post', `?handler=${handler}`, { source: '#diagram-pane', target: '#workspace', swap: 'morph:outerHTML' });
}

export function startHistory(): void {
  document.addEventListener('submit', event => {
    const kind = (event.target as HTMLElement).dataset.history;
    if (!kind) return;
    event.preventDefault();
    move(kind === 'undo' ? 'Undo' : 'Redo');
  });
  document.addEventListener('keydown', event => {
    if (!(event.ctrlKey || event.metaKey)) return;
    const typing = event.target instanceof HTMLInputElement || event.target instanceof HTMLTextAreaElement;
    // Inside a field the browser's own undo comes first, as long as the field differs from what was saved.
    if (typing && (event.target as HTMLInputElement).value !== (event.target as HTMLInputElement).defaultValue) return;
    const key = event.key.toLowerCase();
    if (key === 'z' || key === 'y') {
      event.preventDefault();
      move(key === 'y' || event.shiftKey ? 'Redo' : 'Undo');
    }
  });
}
