// The quick line: fixes replace its text, a part that was added empties it.
import htmx from '../page/htmx';

export function startQuickLine(root: HTMLElement): void {
  const input = root.querySelector<HTMLInputElement>('#quick-line');
  const preview = root.querySelector<HTMLElement>('#quick-preview');
  if (!input || !preview) return;
  const put = (text: string): void => {
    input.value = text;
    input.focus();
    htmx.trigger(input, 'input', {});
  };
  root.addEventListener('click', event => {
    const fix = (event.target as Element).closest<HTMLElement>('[data-quick-fix], [data-quick-sample]');
    if (fix) put(fix.dataset.quickFix ?? fix.dataset.quickSample ?? '');
  });
  // A pasted model of many lines fits into one line, parts separated by semicolons.
  input.addEventListener('paste', event => {
    const text = event.clipboardData?.getData('text') ?? '';
    if (!/\n/.test(text.trim())) return;
    event.preventDefault();
    put(text.trim().split(/\r?\n/).map(line => line.trim()).filter(Boolean).join('; '));
  });
  root.addEventListener('htmx:afterRequest', event => {
    const detail = (event as CustomEvent).detail;
    if (detail.elt?.id !== 'quick-form' || detail.xhr?.status !== 200) return;
    input.value = '';
    preview.replaceChildren();
    input.focus();
  });
}
