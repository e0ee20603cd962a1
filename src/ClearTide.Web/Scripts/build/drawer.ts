// Where the window is narrow the ledger is a drawer over the page: a button opens and closes it, an opened part brings it, Escape puts it
// back where nothing is open.
const open = 'ledger-open';

export function startDrawer(root: HTMLElement): void {
  const button = root.querySelector<HTMLElement>('#ledger-button')!;
  const show = (shown: boolean): void => {
    root.classList.toggle(open, shown);
    button.setAttribute('aria-expanded', String(shown));
  };
  button.addEventListener('click', () => show(!root.classList.contains(open)));
  root.querySelector('#ledger-close')!.addEventListener('click', () => {
    show(false);
    button.focus();
  });
  document.addEventListener('htmx:afterSettle', () => {
    if (root.querySelector('.line-item.open')) show(true);
  });
  root.querySelector('.ledger-side')!.addEventListener('keydown', event => {
    if ((event as KeyboardEvent).key !== 'Escape' || root.querySelector('.line-item.open') || !root.classList.contains(open)) return;
    show(false);
    button.focus();
  });
}
