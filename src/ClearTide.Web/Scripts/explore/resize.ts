// The lower edge of a panel, dragged or moved by arrow keys, makes it higher or lower.
const least = 140,
  most = 1200,
  step = 20;

const heightOf = (panel: HTMLElement): number => panel.querySelector<HTMLElement>('.panel-body')!.clientHeight;

const within = (height: number): number => Math.round(Math.min(most, Math.max(least, height)));

export function startResizing(root: HTMLElement, keep: (panel: HTMLElement, height: number) => void): void {
  root.addEventListener('pointerdown', event => {
    const grip = (event.target as Element).closest<HTMLElement>('.panel-grip'),
      panel = grip?.closest<HTMLElement>('.panel');
    if (!grip || !panel || event.button !== 0) return;
    event.preventDefault();
    const start = event.clientY,
      before = heightOf(panel),
      body = panel.querySelector<HTMLElement>('.panel-body')!;
    grip.setPointerCapture(event.pointerId);
    const move = (at: PointerEvent): void => {
      body.style.height = `${within(before + at.clientY - start)}px`;
    };
    const end = (at: PointerEvent): void => {
      grip.removeEventListener('pointermove', move);
      body.style.height = '';
      const height = within(before + at.clientY - start);
      if (at.type === 'pointerup' && height !== before) keep(panel, height);
    };
    grip.addEventListener('pointermove', move);
    grip.addEventListener('pointerup', end, { once: true });
    grip.addEventListener('pointercancel', end, { once: true });
  });
  root.addEventListener('keydown', event => {
    const grip = (event.target as Element).closest<HTMLElement>('.panel-grip'),
      panel = grip?.closest<HTMLElement>('.panel');
    if (!grip || !panel || (event.key !== 'ArrowUp' && event.key !== 'ArrowDown')) return;
    event.preventDefault();
    keep(panel, within(Number(grip.getAttribute('aria-valuenow')) + (event.key === 'ArrowDown' ? step : -step)));
  });
}
