// Bars of measures that are moved and lengthened, by pointer and by keys.
import type { Frame } from '../chart/frame';
import type { Lane } from '../projection/calendar';

export interface Window {
  from: number;
  until: number;
}

/** How near to its end a bar is taken by the end, in pixels. */
const grip = 9;

/** Times fall on round numbers: a hundredth of the span, as a power of ten times 1, 2 or 5. */
export function stepOf(span: number): number {
  const ideal = span / 200,
    power = 10 ** Math.floor(Math.log10(ideal)),
    lead = ideal / power;
  return (lead <= 1 ? 1 : lead <= 2 ? 2 : lead <= 5 ? 5 : 10) * power;
}

const rounded = (time: number, step: number): number => Number((Math.round(time / step) * step).toPrecision(12));

/** The window with one of its ends, or all of it, moved by so much. */
export function moved(window: Window, part: 'from' | 'until' | 'all', by: number, step: number): Window {
  const from = rounded(window.from + (part === 'until' ? 0 : by), step),
    until = rounded(window.until + (part === 'from' ? 0 : by), step);
  if (part === 'all') return { from, until: rounded(from + (window.until - window.from), step) };
  return part === 'from'
    ? { from: Math.min(from, window.until - step), until: window.until }
    : { from: window.from, until: Math.max(until, window.from + step) };
}

/**
 * @param going told each window while a bar is dragged
 * @param done told the last one
 */
export function startDragging(
  bar: SVGElement,
  lane: Lane,
  at: Frame,
  going: (window: Window) => void,
  done: (window: Window) => void,
): void {
  const [first, last] = at.x.domain() as [number, number],
    step = stepOf(last - first);
  bar.addEventListener('pointerdown', event => {
    event.preventDefault();
    (bar as unknown as HTMLElement).focus();
    bar.setPointerCapture(event.pointerId);
    const box = bar.getBoundingClientRect(),
      part = lane.endless ? 'all' : box.right - event.clientX < grip ? 'until' : event.clientX - box.left < grip ? 'from' : 'all',
      perPixel = (last - first) / (at.right - at.left);
    let now: Window = lane;
    const move = (to: PointerEvent): void => {
      now = moved(lane, part, (to.clientX - event.clientX) * perPixel, step);
      going(now);
    };
    const stop = (save: boolean): void => {
      bar.removeEventListener('pointermove', move);
      bar.removeEventListener('pointerup', end);
      document.removeEventListener('keydown', escape, true);
      if (save && (now.from !== lane.from || now.until !== lane.until)) done(now);
      else going(lane);
    };
    const end = (): void => stop(true);
    const escape = (key: KeyboardEvent): void => {
      if (key.key === 'Escape') stop(false);
    };
    bar.addEventListener('pointermove', move);
    bar.addEventListener('pointerup', end);
    document.addEventListener('keydown', escape, true);
  });
  // Keys that follow each other quickly are one move, kept when they pause.
  let kept: Window = lane,
    pause = 0;
  bar.addEventListener('keydown', event => {
    const by = event.key === 'ArrowLeft' ? -step : event.key === 'ArrowRight' ? step : 0;
    if (by === 0) return;
    event.preventDefault();
    kept = moved(kept, event.shiftKey && !lane.endless ? 'until' : 'all', by, step);
    going(kept);
    clearTimeout(pause);
    pause = window.setTimeout(() => done(kept), 300);
  });
}
