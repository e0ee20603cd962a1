// Bands of many runs by chance, and a few of them, behind the curves.
import type { Frame } from '../chart/frame';
import { drawBand, drawLine } from '../chart/marks';
import type { Fan } from './chance';
import type { Curve } from './run';

export function drawFan(at: Frame, fan: Fan | null, shown: Curve[]): void {
  if (!fan) return;
  for (const curve of shown) {
    const bands = fan.bands[curve.id];
    if (!bands) continue;
    drawBand(at, fan.times, bands.p5, bands.p95, `band outer hue-c${curve.colour}`);
    drawBand(at, fan.times, bands.p25, bands.p75, `band inner hue-c${curve.colour}`);
    for (const values of bands.runs) drawLine(at, fan.times, values, `line before by-chance hue-c${curve.colour}`);
  }
}
