// Keys of Explore: k keeps the run, Escape leaves a panel that fills the window.
export function startKeys(root: HTMLElement): void {
  document.addEventListener('keydown', event => {
    if ((event.target as Element).closest('input, textarea, select') || event.ctrlKey || event.metaKey || event.altKey) return;
    if (event.key === 'k') root.querySelector<HTMLButtonElement>('#keep-run')?.click();
    if (event.key === 'Escape')
      for (const panel of root.querySelectorAll('.panel.filled [data-take=window]')) (panel as HTMLElement).click();
  });
}
