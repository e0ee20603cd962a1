// Where the spread of a projection comes from: the share of each source in the variance over time, one upon the other.
import { frame, type Frame } from '../chart/frame';
import { drawBand, drawEndNames } from '../chart/marks';

export interface Share {
  name: string;
  /** For each interval from 0 to 1; null where nothing varies. */
  share: (number | null)[];
}

export const sharesHeight = 150;

/** @param above the chart that it shares its time with */
export function drawShares(above: Frame, width: number, ends: number[], shares: Share[], unit: string): SVGSVGElement {
  const at = frame({
    width,
    height: sharesHeight,
    xDomain: above.x.domain() as [number, number],
    yMax: 100,
    xUnit: `${unit}s`,
    time: true,
    yTitle: 'percent of the variance of the baseline',
    label: 'Shares of the variance over time',
    rightMargin: 110,
  });
  const low = new Array<number>(ends.length).fill(0),
    names: { text: string; y: number; className: string }[] = [];
  shares.forEach((one, k) => {
    const from = [...low],
      hue = `hue-c${[5, 2, 7, 4][k]}`;
    for (let j = 0; j < ends.length; j++) low[j] = Math.min(100, low[j]! + 100 * Math.max(0, one.share[j] ?? 0));
    drawBand(at, ends, from, [...low], `layer share ${hue}`);
    names.push({ text: one.name, y: at.y(0.5 * ((from.at(-1) ?? 0) + (low.at(-1) ?? 0))), className: hue });
  });
  drawEndNames(at, names);
  return at.root;
}
