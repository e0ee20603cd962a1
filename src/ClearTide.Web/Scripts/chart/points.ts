// Rows of data at a time of a chart.
import type { Point } from './marks';
import { amount } from './numbers';

/** A row of data: what was seen until its end, or at it. */
export interface DataPoint {
  /** Its place among the rows of the series. */
  row: number;
  start: number;
  end: number;
  value: number;
  /** Its standard deviation or error. */
  error?: number;
  /** Whether all that is known is that it is below the value. */
  below?: boolean;
  /** Whether fits leave it out. */
  out?: boolean;
}

/** What was seen at a time, in words with its unit: of rows that stand at one time the nearest, within a hundredth of their span. */
export function seenAt(points: DataPoint[], time: number, unit: string): string {
  const counted = points.find(point => time > point.start && time <= point.end);
  const near = Math.abs((points[points.length - 1]?.end ?? 0) - (points[0]?.end ?? 0)) / 100;
  const nearest = points.reduce<DataPoint | undefined>(
    (best, point) => (best && Math.abs(best.end - time) <= Math.abs(point.end - time) ? best : point),
    undefined,
  );
  const point = counted ?? (nearest && nearest.start === nearest.end && Math.abs(nearest.end - time) <= near ? nearest : undefined);
  if (!point) return '—';
  return `${point.below ? '< ' : ''}${amount(point.value)}${point.error ? ` ± ${amount(point.error)}` : ''} ${unit}`.trim();
}

/** A series of data as points of a chart. */
export const pointsOf = ({ id, colour, points }: { id: string; colour: number; points: DataPoint[] }): Point[] =>
  points.map(({ row, end, value, error, below, out }) => ({
    time: end,
    value,
    error,
    below,
    out,
    hue: colour ? `hue-c${colour}` : undefined,
    from: { series: id, row },
  }));
