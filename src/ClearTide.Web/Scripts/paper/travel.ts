// Travel between parts along the flows by keyboard: “.” goes with a flow, “,” against it; up and down choose between flows of one plate.
import { scene, type Node, type Ribbon } from './scene';
import { bringIntoView } from './view';

function focus(element: SVGElement): void {
  bringIntoView(element);
  element.focus({ preventScroll: true });
}

const nodeById = (id: string): Node | undefined => scene().nodes.find(node => node.id === id);

/** One step of a journey; false where there is nowhere to go. */
export function travel(from: Element, key: string): boolean {
  const ribbon = scene().ribbons.find(one => one.element === from.closest('.flow'));
  if (ribbon) return alongRibbon(ribbon, key);
  const node = scene().nodes.find(one => one.element === from.closest('.plate'));
  if (!node || (key !== '.' && key !== ',')) return false;
  const next = scene().ribbons.find(one => (key === '.' ? one.from : one.to) === node.id);
  if (next) focus(next.element);
  return next !== undefined;
}

function alongRibbon(ribbon: Ribbon, key: string): boolean {
  if (key === '.' || key === ',') {
    const end = key === '.' ? ribbon.to : ribbon.from;
    // The reaction node of a reaction is passed through.
    const next = nodeById(end) ?? scene().ribbons.find(one => end !== '' && (key === '.' ? one.from : one.to) === end);
    if (next) focus(next.element);
    return next !== undefined;
  }
  if (key !== 'ArrowUp' && key !== 'ArrowDown') return false;
  // Flows that leave the same plate are neighbours; those from outside are so by where they arrive.
  const plate = ribbon.from || ribbon.to;
  const row = scene()
    .ribbons.filter(one => (ribbon.from ? one.from : one.to) === plate)
    .sort((a, b) => a.middle[1] - b.middle[1] || a.middle[0] - b.middle[0]);
  const next = row[row.indexOf(ribbon) + (key === 'ArrowDown' ? 1 : -1)];
  if (next) focus(next.element);
  return next !== undefined;
}
