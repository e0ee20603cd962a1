// Plays the run: the time cursor goes from where it is to the end, at a chosen speed.
import type { TimeCursor } from './cursor';

const seconds: Record<string, number> = { slow: 40, steady: 16, fast: 6 };

export function startPlaying(root: HTMLElement, cursor: TimeCursor): void {
  const button = root.querySelector<HTMLButtonElement>('#play');
  const speed = root.querySelector<HTMLSelectElement>('#play-speed');
  if (!button || !speed) return;
  let frame = 0,
    last = 0;
  const stop = (): void => {
    cancelAnimationFrame(frame);
    frame = 0;
    button.textContent = 'Play';
  };
  const step = (now: number): void => {
    const [start, end] = cursor.range;
    cursor.move(cursor.time + ((end - start) * (now - last)) / 1000 / (seconds[speed.value] ?? 16));
    last = now;
    if (cursor.time >= end) stop();
    else frame = requestAnimationFrame(step);
  };
  button.addEventListener('click', () => {
    if (frame) return stop();
    const [start, end] = cursor.range;
    if (cursor.time >= end) cursor.move(start);
    button.textContent = 'Pause';
    last = performance.now();
    frame = requestAnimationFrame(step);
  });
}
