// A formula in the ledger is checked while it is typed: what the server would find is said under it, before anything is saved.
const pause = 120;
let waiting = 0;
let asked = 0;

async function ask(field: HTMLInputElement): Promise<void> {
  const values = JSON.parse(field.getAttribute('hx-vals') ?? '{}') as Record<string, string>;
  const place = document.getElementById(`check-${values.partId}`);
  if (!place) return;
  const mine = ++asked;
  const answer = await fetch(`?handler=Check&${new URLSearchParams({ ...values, value: field.value })}`).catch(() => null);
  // An answer to what was typed before says nothing about what stands there now.
  if (mine !== asked || !answer?.ok || !field.isConnected) return;
  place.innerHTML = await answer.text();
}

export function startChecking(root: HTMLElement): void {
  root.addEventListener('input', event => {
    const field = event.target as HTMLInputElement;
    if (!field.classList.contains('formula') || !field.closest('.line-form')) return;
    clearTimeout(waiting);
    waiting = setTimeout(() => void ask(field), pause);
  });
}
