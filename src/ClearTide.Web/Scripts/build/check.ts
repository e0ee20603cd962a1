// A formula in the ledger is checked while it is typed: what the server would find is said under it, before anything is saved.
import { ask } from '../page/ask';

const pause = 120;
let waiting = 0;
let asked = 0;

async function check(field: HTMLInputElement): Promise<void> {
  const values = JSON.parse(field.getAttribute('hx-vals') ?? '{}') as Record<string, string>;
  const place = document.getElementById(`check-${values.partId}`);
  if (!place) return;
  const mine = ++asked;
  const answer = await ask('Check', { ...values, value: field.value }).catch(() => null);
  // An answer to what was typed before says nothing about what stands there now.
  if (mine !== asked || !answer?.ok || !field.isConnected) return;
  place.innerHTML = await answer.text();
}

export function startChecking(root: HTMLElement): void {
  root.addEventListener('input', event => {
    const field = event.target as HTMLInputElement;
    field.removeAttribute('aria-invalid');
    if (!field.classList.contains('formula') || !field.closest('.line-form')) return;
    clearTimeout(waiting);
    waiting = setTimeout(() => void check(field), pause);
  });
  // What was refused is said in the same place; the field keeps what was typed.
  document.addEventListener('htmx:afterRequest', event => {
    const { elt, xhr, requestConfig } = (
      event as CustomEvent<{ elt: Element; xhr: XMLHttpRequest; requestConfig?: { triggeringEvent?: Event } }>
    ).detail;
    if (xhr.status !== 422) return;
    if (elt.closest('.line-form')) elt.setAttribute('aria-invalid', 'true');
    else if (elt.closest('.span-form') && requestConfig?.triggeringEvent?.target instanceof HTMLInputElement)
      requestConfig.triggeringEvent.target.setAttribute('aria-invalid', 'true');
  });
}
