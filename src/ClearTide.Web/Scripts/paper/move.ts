// Plates, references, regions and texts are moved by pointer or arrow keys; ribbons follow, and the server draws them properly after the drop.
import { post } from '../build/post';
import { openLine } from '../build/ledger';
import { follow } from './gesture';
import { paperScale, scene, type Node } from './scene';
import { headPath } from './levels';

type Places = Map<string, [number, number]>;

/** The ids of all that moves with a node: a folded region takes its compartments along, a chosen plate all that is chosen. */
function moving(node: Node, chosen: Set<string>): string[] {
  if (node.members.length) return node.members;
  const id = node.id || node.part;
  return chosen.has(id) ? [...chosen].filter(other => places().has(other)) : [id];
}

/** Where every plate, reference and text stands, by id. Compartments of folded regions are not on the paper; the server knows their places. */
function places(): Places {
  const { nodes, texts } = scene();
  return new Map([...nodes, ...texts].filter(node => !node.members.length).map(node => [node.id, [node.x, node.y]]));
}

function carryRibbons(moved: Set<string>, dx: number, dy: number, courses: Map<Element, string>): void {
  for (const ribbon of scene().ribbons) {
    const [from, to] = [moved.has(ribbon.from), moved.has(ribbon.to)];
    if (!from && !to) continue;
    const course = courses.get(ribbon.ribbon) ?? ribbon.ribbon.getAttribute('d')!;
    courses.set(ribbon.ribbon, course);
    // An open end travels with its plate; the first two points of a path belong to its start, the last two to its end.
    const startMoves = from || !ribbon.from,
      endMoves = to || !ribbon.to;
    const at = (course.match(/-?[\d.]+/g) ?? [])
      .map(Number)
      .map((value, k) => (value + ((k < 4 ? startMoves : endMoves) ? (k % 2 ? dy : dx) : 0)).toFixed(1));
    const path = dx || dy ? `M${at[0]} ${at[1]} C${at.slice(2).join(' ')}` : course;
    ribbon.ribbon.setAttribute('d', path);
    ribbon.reach.setAttribute('d', path);
    if (endMoves) {
      const [x, y, ux, uy] = ribbon.tip;
      ribbon.head.setAttribute('d', headPath([x + dx, y + dy, ux, uy], Number(ribbon.ribbon.getAttribute('stroke-width'))));
    }
  }
}

function carry(nodes: Node[], dx: number, dy: number, courses: Map<Element, string>): void {
  const shift = dx || dy ? `translate(${dx.toFixed(1)} ${dy.toFixed(1)})` : null;
  for (const node of nodes) {
    if (shift) node.element.setAttribute('transform', shift);
    else node.element.removeAttribute('transform');
  }
  carryRibbons(new Set(nodes.map(node => node.id)), dx, dy, courses);
}

export const postPlaces = (places: Iterable<[string, [number, number]]>, how = 'moved'): Promise<void> =>
  post('Place', { how, places: [...places].map(([id, [x, y]]) => `${id}:${Math.round(x)}:${Math.round(y)}`).join(';') });

/** Moves nodes by a distance and keeps it. Regions that are folded are moved by the places of their plates, which the server keeps. */
function drop(nodes: Node[], dx: number, dy: number): void {
  const all = hiddenPlaces();
  const moved = nodes.flatMap(node =>
    node.members.length ? node.members.map(id => [id, all.get(id) ?? [node.x, node.y]] as const) : [[node.id, [node.x, node.y]] as const],
  );
  void postPlaces(moved.map(([id, [x, y]]) => [id, [x + dx, y + dy]]));
}

/** Places of compartments that are folded away, which the page carries beside the diagram. */
function hiddenPlaces(): Places {
  const text = document.getElementById('folded-places')?.textContent?.trim() ?? '';
  return new Map(
    text
      .split(';')
      .filter(Boolean)
      .map(one => one.split(':'))
      .map(([id, x, y]) => [id!, [Number(x), Number(y)]]),
  );
}

export function dragNode(event: PointerEvent, node: Node, chosen: Set<string>): void {
  const { nodes, texts } = scene();
  const ids = new Set(moving(node, chosen));
  const together = [...nodes, ...texts].filter(other => other === node || (!other.members.length && ids.has(other.id)));
  const courses = new Map<Element, string>();
  const scale = paperScale();
  (node.element as SVGElement).focus({ preventScroll: true });
  let frame = 0;
  const shift = (at: PointerEvent): [number, number] => [(at.clientX - event.clientX) / scale, (at.clientY - event.clientY) / scale];
  follow(event, {
    move: at => {
      cancelAnimationFrame(frame);
      frame = requestAnimationFrame(() => carry(together, ...shift(at), courses));
    },
    done: at => {
      cancelAnimationFrame(frame);
      carry(together, ...shift(at), courses);
      drop(together, ...shift(at));
    },
    // A click selects: its line is shown, and the keys stay with the plate. With Shift it is chosen besides others instead.
    click: () => {
      if (node.part && !event.shiftKey) void openLine(node.part, false);
    },
    cancel: () => {
      cancelAnimationFrame(frame);
      carry(together, 0, 0, courses);
    },
  });
}

let nudged: { nodes: Node[]; dx: number; dy: number; courses: Map<Element, string> } | null = null;
let waiting = 0;

/** Arrow keys move what is chosen, or the plate with the focus; steps in a row are kept as one. */
export function nudge(node: Node, chosen: Set<string>, dx: number, dy: number): void {
  const ids = new Set(moving(node, chosen));
  const { nodes, texts } = scene();
  nudged ??= {
    nodes: [...nodes, ...texts].filter(other => other === node || (!other.members.length && ids.has(other.id))),
    dx: 0,
    dy: 0,
    courses: new Map(),
  };
  nudged.dx += dx;
  nudged.dy += dy;
  carry(nudged.nodes, nudged.dx, nudged.dy, nudged.courses);
  clearTimeout(waiting);
  waiting = setTimeout(() => {
    const last = nudged;
    nudged = null;
    if (last) drop(last.nodes, last.dx, last.dy);
  }, 350);
}
