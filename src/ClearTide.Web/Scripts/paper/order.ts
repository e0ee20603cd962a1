// Aligns, spreads and arranges plates. Arranging leaves alone what is pinned.
import { postPlaces } from './move';
import { scene, type Node } from './scene';
import type { arrangeByForces } from './forces';

type Place = [string, [number, number]];

export type Edge = 'left' | 'centre' | 'top' | 'middle';

const plates = (ids: Set<string>): Node[] =>
  scene().nodes.filter(node => !node.members.length && node.id === node.part && ids.has(node.part));

/** Puts plates in one line: by their left edges, their upper edges, or their middles. */
export function align(ids: Set<string>, edge: Edge): void {
  const chosen = plates(ids);
  if (chosen.length < 2) return;
  const least = (of: (node: Node) => number): number => Math.min(...chosen.map(of)),
    mean = (of: (node: Node) => number): number => chosen.reduce((sum, node) => sum + of(node), 0) / chosen.length;
  const x = edge === 'left' ? least(node => node.x) : mean(node => node.x),
    y = edge === 'top' ? least(node => node.y) : mean(node => node.y);
  const upright = edge === 'left' || edge === 'centre';
  void postPlaces(
    chosen.map((node): Place => [node.id, upright ? [x, node.y] : [node.x, y]]),
    'aligned',
  );
}

/** Puts equal room between plates, along the way in which they reach farther. */
export function spread(ids: Set<string>): void {
  const chosen = plates(ids);
  if (chosen.length < 3) return;
  const extent = (of: (node: Node) => number): number => Math.max(...chosen.map(of)) - Math.min(...chosen.map(of));
  const across = extent(node => node.x) >= extent(node => node.y);
  const key = (node: Node): number => (across ? node.x : node.y);
  const row = [...chosen].sort((a, b) => key(a) - key(b));
  const first = key(row[0]!),
    step = (key(row.at(-1)!) - first) / (row.length - 1);
  void postPlaces(
    row.map((node, k): Place => [node.id, across ? [first + k * step, node.y] : [node.x, first + k * step]]),
    'spread',
  );
}

interface Graph {
  setGraph(options: object): void;
  setDefaultEdgeLabel(label: () => object): void;
  setNode(id: string, value: object): void;
  setEdge(from: string, to: string): void;
  node(id: string): { x: number; y: number };
}

interface Layout {
  graph: () => Graph;
  layout: (graph: Graph) => void;
  arrangeByForces: typeof arrangeByForces;
}

/** From so many boxes on, and so many ties for each of them, layers tell nothing any more. */
const manyBoxes = 24,
  manyTies = 1.8;

interface Sized {
  id: string;
  width: number;
  height: number;
}

/** Upper left corners of boxes laid out layer by layer along their links. */
function layers<T extends Sized>(
  { graph: make, layout, arrangeByForces }: Layout,
  boxes: T[],
  links: [string, string][],
  ranks: number,
  rows: number,
): Map<string, [number, number]> {
  const graph = make(),
    known = new Set(boxes.map(box => box.id));
  graph.setGraph({ rankdir: 'LR', nodesep: rows, ranksep: ranks, edgesep: 6 });
  graph.setDefaultEdgeLabel(() => ({}));
  const ties = [...new Set(links.filter(([from, to]) => from !== to && known.has(from) && known.has(to)).map(pair => pair.join(' ')))].map(
    pair => pair.split(' ') as [string, string],
  );
  if (boxes.length >= manyBoxes && ties.length > manyTies * boxes.length)
    return arrangeByForces(
      boxes.map(box => box.id),
      boxes[0]!,
      ties,
    );
  for (const { id, width, height } of boxes) graph.setNode(id, { width, height });
  for (const [from, to] of ties) graph.setEdge(from, to);
  layout(graph);
  return wrapped(
    new Map(boxes.map(({ id, width, height }) => [id, [graph.node(id).x - width / 2, graph.node(id).y - height / 2]])),
    ranks,
    boxes,
  );
}

/** A long chain of layers broken into rows, as a line of text is, so that the whole is about as wide as a page. */
function wrapped(places: Map<string, [number, number]>, ranks: number, boxes: Sized[]): Map<string, [number, number]> {
  const extent = (axis: 0 | 1, size: (box: Sized) => number): number =>
    Math.max(...boxes.map(box => places.get(box.id)![axis] + size(box)));
  const width = extent(0, box => box.width),
    row = extent(1, box => box.height) + ranks,
    column = Math.max(...boxes.map(box => box.width)) + ranks;
  const rows = Math.round(Math.sqrt(width / (1.9 * row)));
  if (rows < 2) return places;
  const length = Math.ceil(width / rows / column) * column;
  return new Map([...places].map(([id, [x, y]]) => [id, [x % length, y + Math.floor(x / length) * row]]));
}

/** Boxes in rows, so many in a row that the whole is about as wide as a page. */
function rowsOf(boxes: Sized[], gap: number): Map<string, [number, number]> {
  const places = new Map<string, [number, number]>();
  const width = 1.5 * Math.sqrt(boxes.reduce((sum, box) => sum + (box.width + gap) * (box.height + gap), 0));
  let x = 0,
    y = 0,
    tallest = 0;
  for (const box of boxes) {
    if (x > 0 && x + box.width > width) [x, y, tallest] = [0, y + tallest + gap, 0];
    places.set(box.id, [x, y]);
    x += box.width + gap;
    tallest = Math.max(tallest, box.height);
  }
  return places;
}

/** Arranges all plates that are not pinned: those of each region by themselves, and the regions in rows. The layout package is fetched when it is first wanted. */
export async function arrange(): Promise<void> {
  const address = '/dist/arrange.js';
  const layout = (await import(address)) as Layout;
  const { nodes, ribbons, reactionNodes } = scene();
  const free = nodes.filter(node => !node.members.length && node.id === node.part && !node.element.classList.contains('pinned'));
  // What a reaction takes stands before what it makes.
  const ends = (reactionNode: string, way: 'from' | 'to'): string[] =>
    ribbons.filter(ribbon => ribbon[way === 'from' ? 'to' : 'from'] === reactionNode).map(ribbon => ribbon[way]);
  const through = reactionNodes.flatMap(reactionNode =>
    ends(reactionNode.part, 'from').flatMap(from => ends(reactionNode.part, 'to').map((to): [string, string] => [from, to])),
  );
  const links = [...ribbons.map((ribbon): [string, string] => [ribbon.from, ribbon.to]), ...through];
  const regions = [...document.querySelectorAll<SVGElement>('#diagram .region')].map(region => new Set(region.dataset.members!.split(' ')));
  const groups = [
    ...regions.map(members => free.filter(node => members.has(node.id))),
    free.filter(node => !regions.some(members => members.has(node.id))),
  ].filter(group => group.length > 0);
  const inside = groups.map(group => layers(layout, group, links, 96, 52));
  const boxes = groups.map((group, k): Sized => {
    const places = group.map(node => ({ node, at: inside[k]!.get(node.id)! }));
    return {
      id: String(k),
      width: Math.max(...places.map(({ node, at }) => at[0] + node.width)),
      height: Math.max(...places.map(({ node, at }) => at[1] + node.height)),
    };
  });
  const outside = rowsOf(boxes, 130);
  const places = groups.flatMap((group, k) =>
    group.map((node): Place => {
      const [x, y] = inside[k]!.get(node.id)!,
        [left, top] = outside.get(String(k))!;
      return [node.id, [Math.round(40 + left + x), Math.round(60 + top + y)]];
    }),
  );
  const pinned = nodes.filter(node => node.element.classList.contains('pinned'));
  if (places.length) await postPlaces(clearOf(places, pinned), 'arranged');
}

/** The arrangement moved below all that is pinned, where it would cover any of it. */
function clearOf(places: Place[], pinned: Node[]): Place[] {
  const covers = places.some(([, [x, y]]) =>
    pinned.some(node => Math.abs(node.x - x) < node.width + 20 && Math.abs(node.y - y) < node.height + 20),
  );
  const down = covers ? Math.max(...pinned.map(node => node.y + node.height)) + 60 - Math.min(...places.map(([, [, y]]) => y)) : 0;
  return places.map(([id, [x, y]]) => [id, [x, y + down]]);
}
