// The time cursor: one time that diagram, ledger and curves follow. It stays where it was when the page is loaded again.
import type { Frame } from '../chart/frame';
type Listener = (time: number) => void;

export class TimeCursor {
  private listeners: Listener[] = [];
  private span: [number, number] = [0, 1];
  time = 0;

  /** @param name under which the browser remembers the time for as long as the page is open in it */
  constructor(private readonly name: string) {}

  private remembered(): number | null {
    const text = sessionStorage.getItem(this.name);
    return text === null || !Number.isFinite(Number(text)) ? null : Number(text);
  }

  /** Keeps the cursor inside the span of the run. */
  setSpan(start: number, end: number): void {
    const first = this.span[0] === 0 && this.span[1] === 1;
    this.span = [start, end];
    const usual = Math.round(start + 0.3 * (end - start));
    this.time = Math.min(Math.max(first ? (this.remembered() ?? usual) : this.time, start), end);
  }

  get range(): [number, number] {
    return this.span;
  }

  move(time: number): void {
    this.time = Math.min(Math.max(time, this.span[0]), this.span[1]);
    sessionStorage.setItem(this.name, String(this.time));
    for (const listener of this.listeners) listener(this.time);
  }

  /** One step is a hundredth of the span, rounded to a whole unit where that is finer. */
  step(direction: number, large: boolean): void {
    const step = Math.max((this.span[1] - this.span[0]) / 100, 1e-9);
    this.move(this.time + direction * (step >= 1 ? Math.round(step) : step) * (large ? 10 : 1));
  }

  onMove(listener: Listener): void {
    this.listeners.push(listener);
  }
}

/** Moves the cursor with the pointer, from a press on its flag until that ends. */
export function dragCursor(event: PointerEvent, at: Frame, cursor: TimeCursor): void {
  event.stopPropagation();
  event.preventDefault();
  const move = (to: PointerEvent): void => cursor.move(at.x.invert(to.clientX - at.root.getBoundingClientRect().left));
  const end = (): void => {
    removeEventListener('pointermove', move);
    removeEventListener('pointerup', end);
    removeEventListener('pointercancel', end);
  };
  addEventListener('pointermove', move);
  addEventListener('pointerup', end);
  addEventListener('pointercancel', end);
}
