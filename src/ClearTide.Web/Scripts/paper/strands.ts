// The ribbon of a flow that runs member by member: a strand for each, as wide as what it carries, side by side.
import { svg } from '../chart/svg';
import type { Ribbon } from './scene';

/** Room between two strands, and the least that can be seen of one. */
const gap = 1.4,
  slimmest = 0.7;

/** More strands than this are one ribbon again. */
export const mostStrands = 6;

/**
 * @param carried what each member moves at the time; empty where the flow is shown as one
 * @param width of the whole ribbon
 */
export function showStrands(ribbon: Ribbon, carried: number[], width: number): void {
  const drawn = ribbon.element.querySelector<SVGGElement>('.strands');
  ribbon.ribbon.classList.toggle('opacity-0', carried.length > 0);
  if (carried.length === 0) {
    drawn?.remove();
    return;
  }
  const place = drawn ?? svg('g', { class: 'strands pointer-events-none' });
  if (!drawn) ribbon.ribbon.after(place);
  while (place.children.length > carried.length) place.lastChild!.remove();
  while (place.children.length < carried.length)
    place.append(svg('path', { class: ribbon.ribbon.getAttribute('class') ?? '', fill: 'none' }));
  const all = carried.reduce((sum, value) => sum + Math.abs(value), 0),
    room = Math.max(width, slimmest * carried.length);
  const widths = carried.map(value => Math.max(slimmest, all > 0 ? (room * Math.abs(value)) / all : 0));
  const [, , ux, uy] = ribbon.tip;
  let at = -(widths.reduce((sum, one) => sum + one, 0) + gap * (carried.length - 1)) / 2;
  for (const [k, one] of widths.entries()) {
    const path = place.children[k]!,
      across = at + one / 2;
    path.setAttribute('class', (ribbon.ribbon.getAttribute('class') ?? '').replace('opacity-0', ''));
    path.setAttribute('d', ribbon.ribbon.getAttribute('d') ?? '');
    path.setAttribute('stroke-width', one.toFixed(1));
    path.setAttribute('transform', `translate(${(-uy * across).toFixed(1)} ${(ux * across).toFixed(1)})`);
    at += one + gap;
  }
}
