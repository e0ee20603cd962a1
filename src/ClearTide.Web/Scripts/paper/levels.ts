// Tide staffs and ribbon widths at the time cursor, on scales that are stated.
import { amount, brief, each } from '../chart/numbers';
import { valueAt } from '../chart/marks';
import { svg } from '../chart/svg';
import { lanes, member } from '../build/members';
import { allCurves, type Curve, type Run } from '../build/run';
import { scene, type Node, type Ribbon } from './scene';
import { mostStrands, showStrands } from './strands';

const staffTop = 8,
  staffBottom = 64,
  widest = 40,
  headLength = 11,
  slimmest = 1.6;

/** Whether staffs share one scale for all amounts of a unit; else each has its own peak. */
export const staffs = { common: false };

/** A text is written only where it says something else: to lay out a text again costs more than to look at it. */
function say(element: Element | null, text: string): void {
  if (element && element.textContent !== text) element.textContent = text;
}

function set(element: Element | null, name: string, value: string): void {
  if (element && element.getAttribute(name) !== value) element.setAttribute(name, value);
}

function showPlate(node: Node, curve: Curve, value: number | null, top: number): void {
  const place = (at: number): number => node.y + staffBottom - (staffBottom - staffTop) * Math.min(1, Math.max(0, at / top));
  set(node.element.querySelector('[data-level]'), 'd', `M${node.x + 3} ${(place(value ?? 0) - 4.5).toFixed(1)}l14 4.5l-14 4.5Z`);
  set(node.element.querySelector('[data-peak]'), 'd', `M${node.x + 9} ${place(curve.peak).toFixed(1)}h10`);
  say(node.element.querySelector('[data-value]'), value === null ? '' : brief(value));
}

/** What a ribbon carries at a time: the shares of all its flows together. */
export function carried(ribbon: Ribbon, values: Map<string, number | null>): number | null {
  let sum = 0;
  for (const strand of ribbon.strands) {
    const value = values.get(strand.flow);
    if (value == null) return null;
    sum += value * strand.share;
  }
  return sum;
}

/** The head of a ribbon as wide as the ribbon, and never so slim that it cannot be seen. */
export function headPath([x, y, ux, uy]: Ribbon['tip'], width: number): string {
  const half = Math.max(5, width / 2 + 3),
    bx = x - headLength * ux,
    by = y - headLength * uy;
  return `M${x} ${y}L${(bx - half * uy).toFixed(1)} ${(by + half * ux).toFixed(1)}L${(bx + half * uy).toFixed(1)} ${(by - half * ux).toFixed(1)}Z`;
}

/** A round number at or below a value: 1, 2 or 5 times a power of ten. */
function round(value: number): number {
  const power = 10 ** Math.floor(Math.log10(value)),
    lead = value / power;
  return (lead >= 5 ? 5 : lead >= 2 ? 2 : 1) * power;
}

function stateScale(run: Run, most: number): void {
  const place = document.getElementById('ribbon-scale');
  if (!place) return;
  if (!(most > 1e-300)) {
    place.replaceChildren();
    return;
  }
  const nice = round(most),
    height = (widest * nice) / most,
    unit = run.curves.find(curve => curve.kind === 'compartment')?.unit ?? '';
  const text = `${amount(nice)}${unit ? ` ${unit}` : ''} ${each(run.per)}`;
  if (place.dataset.says === text + height.toFixed(1)) return;
  place.dataset.says = text + height.toFixed(1);
  place.replaceChildren(
    svg(
      'svg',
      { width: 26, height: 40, viewBox: '0 0 26 40', 'aria-hidden': 'true' },
      svg('rect', { x: 0, y: 20 - height / 2, width: 26, height, class: 'fill-mute opacity-40' }),
    ),
    ` a ribbon this wide carries ${text}`,
  );
}

/** The lanes at the foot of a plate: each as wide as what its member holds of the most that any of them does. */
function showLanes(node: Node, byId: Map<string, Curve>, run: Run, time: number): void {
  const drawn = [...node.element.querySelectorAll<SVGGElement>('.lane')];
  if (drawn.length === 0) return;
  const held = drawn.map(lane =>
    (lane.dataset.lane ?? '')
      .split(' ')
      .map(id => byId.get(id))
      .filter(curve => curve !== undefined),
  );
  const top = Math.max(...held.map(curves => curves.reduce((sum, curve) => sum + curve.peak, 0)), 1e-300);
  for (const [k, lane] of drawn.entries()) {
    const value = held[k]!.reduce((sum, curve) => sum + (valueAt(run.times, curve.values, time) ?? 0), 0);
    const level = lane.querySelector<SVGRectElement>('[data-level]')!;
    set(level, 'width', (Number(level.dataset.room) * Math.min(1, Math.max(0, value / top))).toFixed(1));
    say(lane.querySelector('[data-value]'), brief(value));
    lane.classList.toggle('opacity-40', member() !== '' && member() !== lanes && member() !== lane.dataset.member);
  }
}

/** What the members of a ribbon's one flow move, where all of them are shown side by side. */
function carriedBy(ribbon: Ribbon, run: Run, time: number): number[] {
  if (member() !== lanes || ribbon.strands.length !== 1) return [];
  const flow = ribbon.strands[0]!.flow,
    members = run.members.filter(curve => curve.of === flow);
  return members.length > mostStrands ? [] : members.map(curve => valueAt(run.times, curve.values, time) ?? 0);
}

export function showLevels(run: Run, time: number): void {
  const { nodes, ribbons, reactionNodes } = scene();
  const byId = new Map(allCurves(run).map(curve => [curve.id, curve]));
  const commonTop = new Map<string, number>();
  for (const curve of run.curves)
    if (curve.kind === 'compartment') commonTop.set(curve.unit, Math.max(commonTop.get(curve.unit) ?? 0, curve.peak));
  for (const node of nodes) {
    if (node.members.length) {
      const inside = node.members.map(id => byId.get(id)).filter((curve): curve is Curve => curve !== undefined);
      const total = inside.reduce((sum, curve) => sum + (valueAt(run.times, curve.values, time) ?? 0), 0);
      say(
        node.element.querySelector('[data-value]'),
        inside.length && inside.every(curve => curve.unit === inside[0]!.unit) ? `${brief(total)} ${inside[0]!.unit}`.trim() : '',
      );
      continue;
    }
    const curve = byId.get(node.part);
    showLanes(node, byId, run, time);
    // Each staff is scaled to its own peak or to the highest of its unit, with a little air above it.
    if (curve)
      showPlate(node, curve, valueAt(run.times, curve.values, time), (staffs.common ? commonTop.get(curve.unit)! : curve.peak) * 1.08 || 1);
  }
  const flows = run.curves.filter(curve => curve.kind === 'flow');
  const values = new Map(flows.map(flow => [flow.id, valueAt(run.times, flow.values, time)]));
  const most = Math.max(0, ...flows.map(flow => flow.peak));
  for (const ribbon of ribbons) {
    const value = carried(ribbon, values);
    const width = Math.min(1.6 * widest, Math.max(slimmest, (widest * Math.abs(value ?? 0)) / (most || 1)));
    const text = width.toFixed(1);
    if (ribbon.ribbon.getAttribute('stroke-width') !== text) {
      ribbon.ribbon.setAttribute('stroke-width', text);
      ribbon.head.setAttribute('d', headPath(ribbon.tip, width));
    }
    showStrands(ribbon, carriedBy(ribbon, run, time), width);
    say(ribbon.rate, value === null ? '' : `${amount(value)} ${each(run.per)}`);
  }
  for (const reactionNode of reactionNodes) {
    const value = values.get(reactionNode.part);
    say(reactionNode.rate, value == null ? '' : `${amount(value)} ${each(run.per)}`);
  }
  stateScale(run, most);
}
