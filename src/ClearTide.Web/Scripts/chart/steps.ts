// What is expected of rows that count over intervals: a level over each.
import type { Frame } from './frame';
import { drawLine } from './marks';
import type { DataPoint } from './points';

/** What is expected of an interval is one number for all of it; a gap between two intervals is one in the line. */
export function drawSteps(at: Frame, rows: DataPoint[], means: (number | null)[], className: string): void {
  drawLine(
    at,
    rows.flatMap(row => [row.start, row.end, row.end]),
    rows.flatMap((row, k) => [means[k]!, means[k]!, rows[k + 1]?.start === row.end ? means[k]! : null]),
    className,
  );
}
