// One pointer gesture from press to release. Escape, a lost pointer or a second button break it off, and nothing is kept.
export interface Gesture {
  move: (event: PointerEvent) => void;
  done: (event: PointerEvent) => void;
  /** The pointer never went farther than a click does. */
  click?: () => void;
  cancel: () => void;
}

const threshold = 4;
let running: (() => void) | null = null;

export function follow(start: PointerEvent, gesture: Gesture): void {
  running?.();
  const listening = new AbortController(),
    { signal } = listening;
  let moved = false;
  const move = (event: PointerEvent): void => {
    if (event.pointerId !== start.pointerId) return;
    if (!moved && Math.hypot(event.clientX - start.clientX, event.clientY - start.clientY) < threshold) return;
    moved = true;
    gesture.move(event);
  };
  const stop = (): void => {
    running = null;
    listening.abort();
  };
  const broken = (): void => {
    stop();
    gesture.cancel();
  };
  const up = (event: PointerEvent): void => {
    if (event.pointerId !== start.pointerId) return;
    stop();
    if (moved) gesture.done(event);
    else {
      gesture.cancel();
      gesture.click?.();
    }
  };
  const escape = (event: KeyboardEvent): void => {
    if (event.key !== 'Escape') return;
    event.preventDefault();
    event.stopPropagation();
    broken();
  };
  running = broken;
  addEventListener('pointermove', move, { signal });
  addEventListener('pointerup', up, { signal });
  addEventListener('pointercancel', broken, { signal });
  addEventListener('keydown', escape, { capture: true, signal });
  addEventListener('blur', broken, { signal });
}
