// Tide staffs and ribbon widths at the time cursor.
import { amount } from '../chart/numbers';
import { valueAt } from '../chart/marks';
import type { Run } from './run';

const staffTop = 8, staffBottom = 64, widest = 40;

/** A text is written only where it says something else: to lay out a text again costs more than to look at it. */
function say(element: Element | null, text: string): void {
  if (element && element.textContent !== text) element.textContent = text;
}

export function showDiagramAt(run: Run, time: number): void {
  const root = document.getElementById('diagram');
  if (!root) return;
  // One walk over the diagram instead of a search for each part.
  const drawn = new Map<string, SVGElement[]>();
  for (const element of root.querySelectorAll<SVGElement>('.plate, .flow')) {
    const part = element.dataset.part ?? '';
    if (!drawn.has(part)) drawn.set(part, []);
    drawn.get(part)!.push(element);
  }
  const flows = run.curves.filter(curve => curve.kind === 'flow');
  const widestFlow = Math.max(1e-300, ...flows.map(flow => flow.peak));
  for (const curve of run.curves) {
    const value = valueAt(run.times, curve.values, time);
    if (curve.kind === 'compartment') {
      const plate = drawn.get(curve.id)?.[0];
      if (!plate) continue;
      // Each staff is scaled to its own peak, with a little air above it.
      const top = curve.peak * 1.08 || 1;
      const place = (amountAt: number): number => staffBottom - (staffBottom - staffTop) * Math.min(1, Math.max(0, amountAt / top));
      plate.querySelector('[data-level]')?.setAttribute('transform', `translate(0 ${place(value ?? 0).toFixed(1)})`);
      const peak = place(curve.peak).toFixed(1);
      plate.querySelector('[data-peak]')?.setAttribute('y1', peak);
      plate.querySelector('[data-peak]')?.setAttribute('y2', peak);
      say(plate.querySelector('[data-value]'), value === null ? '' : value >= 100 ? amount(Math.round(value)) : amount(value));
    } else if (curve.kind === 'flow') {
      for (const flow of drawn.get(curve.id) ?? []) {
        const carried = value === null ? null : value * Number(flow.dataset.share ?? 1);
        const width = Math.max(1.6, (widest * Math.abs(carried ?? 0)) / widestFlow);
        flow.querySelector('.ribbon')?.setAttribute('stroke-width', width.toFixed(1));
        say(flow.querySelector('[data-rate]'), carried === null ? '' : `${amount(carried)} a ${run.unit}`);
      }
    }
  }
}
