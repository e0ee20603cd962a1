// Pointer gestures on a plot: a click picks a time, a drag zooms into a stretch, a double click shows all again.
import type { Frame } from './frame';
import { svg } from './svg';

export interface PickHandlers {
  onPick: (time: number) => void;
  onZoom: (from: number, to: number) => void;
  onReset: () => void;
}

const dragThreshold = 6;

export function attachPick(frame: Frame, handlers: PickHandlers): void {
  let start: number | null = null;
  const veil = svg('rect', {
    class: 'zoom-veil fill-tide opacity-14',
    y: frame.top,
    height: frame.bottom - frame.top,
    width: 0,
    visibility: 'hidden',
  });
  frame.plot.append(veil);
  const place = (event: PointerEvent): number =>
    Math.min(Math.max(event.clientX - frame.root.getBoundingClientRect().left, frame.left), frame.right);
  frame.root.addEventListener('pointerdown', event => {
    if (event.button !== 0 || (event.target as Element).closest('[role=button], [data-point], .cursor-flag')) return;
    start = place(event);
    frame.root.setPointerCapture(event.pointerId);
  });
  frame.root.addEventListener('pointermove', event => {
    if (start === null || Math.abs(place(event) - start) < dragThreshold) return;
    veil.setAttribute('x', String(Math.min(start, place(event))));
    veil.setAttribute('width', String(Math.abs(place(event) - start)));
    veil.setAttribute('visibility', 'visible');
  });
  const finish = (event: PointerEvent): void => {
    if (start === null) return;
    const [from, to] = [Math.min(start, place(event)), Math.max(start, place(event))];
    start = null;
    veil.setAttribute('visibility', 'hidden');
    if (event.type === 'pointercancel') return;
    if (to - from < dragThreshold) handlers.onPick(frame.x.invert(to));
    else handlers.onZoom(frame.x.invert(from), frame.x.invert(to));
  };
  frame.root.addEventListener('pointerup', finish);
  frame.root.addEventListener('pointercancel', finish);
  frame.root.addEventListener('dblclick', handlers.onReset);
}
