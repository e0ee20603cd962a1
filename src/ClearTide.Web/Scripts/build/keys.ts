// The list of keys: opened by “?” or its button.
export function startKeys(): void {
  const sheet = document.querySelector<HTMLDialogElement>('#keys');
  if (!sheet) return;
  document.addEventListener('keydown', event => {
    if (event.key !== '?' || (event.target as Element).closest('input, textarea, select')) return;
    event.preventDefault();
    if (!sheet.open) sheet.showModal();
  });
  document.addEventListener('click', event => {
    if ((event.target as Element).closest('[data-keys]')) sheet.showModal();
  });
}
