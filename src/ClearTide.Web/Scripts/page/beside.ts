// The curves of other fits, laid beside that of the one that is shown: those whose box in the list is ticked.
import type { Frame } from '../chart/frame';
import { drawLine } from '../chart/marks';
import type { DataPoint } from '../chart/points';
import { drawSteps } from '../chart/steps';

/** What another fit expects of the rows of a picture. */
export interface BesideFit {
  fit: string;
  /** Number of its colour. */
  shade: number;
  name: string;
  expected: (number | null)[] | null;
}

const boxes = (): HTMLInputElement[] => [...document.querySelectorAll<HTMLInputElement>('[data-beside]')];

/** Lists are drawn anew after answers; what was ticked stays so. */
const ticked = new Set<string>();

export function drawBeside(at: Frame, rows: DataPoint[], fits: BesideFit[]): void {
  for (const { fit, shade, expected } of fits) {
    if (!ticked.has(fit) || !expected) continue;
    const className = `line stroke-[1.4] hue-s${shade}`;
    if (rows.some(row => row.end > row.start)) drawSteps(at, rows, expected, className);
    else
      drawLine(
        at,
        rows.map(row => row.end),
        expected,
        className,
      );
  }
}

/** Tells when other fits are to be seen. */
export function onBeside(changed: () => void): void {
  document.addEventListener('change', event => {
    const box = event.target as HTMLInputElement,
      fit = box.dataset.beside;
    if (!fit) return;
    if (box.checked) ticked.add(fit);
    else ticked.delete(fit);
    changed();
  });
  document.addEventListener('htmx:afterSettle', () => {
    for (const box of boxes()) box.checked = ticked.has(box.dataset.beside!);
  });
}
