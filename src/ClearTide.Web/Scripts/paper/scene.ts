// What the diagram holds, read once for each drawing of the server: gestures and the time cursor look things up here.
export interface Node {
  id: string;
  part: string;
  members: string[];
  element: SVGGElement;
  x: number;
  y: number;
  width: number;
  height: number;
}

export interface Ribbon {
  part: string;
  leg: number;
  from: string;
  to: string;
  strands: { flow: string; share: number }[];
  element: SVGGElement;
  ribbon: SVGPathElement;
  reach: SVGPathElement;
  head: SVGPathElement;
  rate: SVGTextElement | null;
  tip: [number, number, number, number];
  middle: [number, number];
}

/** Where the parts of a reaction come together. */
export interface ReactionNode {
  part: string;
  element: SVGGElement;
  rate: SVGTextElement;
}

export interface Scene {
  root: SVGSVGElement;
  nodes: Node[];
  ribbons: Ribbon[];
  reactionNodes: ReactionNode[];
  texts: Node[];
}

const numbers = (text: string | undefined): number[] => (text ?? '').split(' ').map(Number);

const words = (text: string | undefined): string[] => (text ?? '').split(' ').filter(Boolean);

function node(element: SVGGElement): Node {
  const [x = 0, y = 0, width = 0, height = 0] = numbers(element.dataset.box);
  return {
    id: element.dataset.node ?? element.dataset.text ?? '',
    part: element.dataset.part ?? '',
    members: words(element.dataset.members),
    element,
    x,
    y,
    width,
    height,
  };
}

function ribbon(element: SVGGElement): Ribbon {
  const find = <T extends Element>(selector: string): T => element.querySelector<T>(selector)!;
  return {
    part: element.dataset.part ?? '',
    leg: Number(element.dataset.leg),
    from: element.dataset.from ?? '',
    to: element.dataset.to ?? '',
    strands: words(element.dataset.strands).map(strand => ({
      flow: strand.slice(0, strand.indexOf(':')),
      share: Number(strand.slice(strand.indexOf(':') + 1)),
    })),
    element,
    ribbon: find('.ribbon'),
    reach: find('.reach'),
    head: find('.head'),
    rate: element.querySelector<SVGTextElement>('[data-rate]'),
    tip: numbers(element.dataset.tip) as Ribbon['tip'],
    middle: numbers(element.dataset.middle) as Ribbon['middle'],
  };
}

let known: Scene | null = null;
let drawn = '';

/** The drawing as it stands; read anew where the server has drawn it anew, which its stamp tells. */
export function scene(): Scene {
  if (known?.root.isConnected && known.root.dataset.stamp === drawn) return known;
  const root = document.querySelector<SVGSVGElement>('#diagram')!;
  drawn = root.dataset.stamp ?? '';
  known = {
    root,
    nodes: [...root.querySelectorAll<SVGGElement>('.plate')].map(node),
    ribbons: [...root.querySelectorAll<SVGGElement>('.flow')].map(ribbon),
    reactionNodes: [...root.querySelectorAll<SVGGElement>('.reaction-node')].map(element => ({
      part: element.dataset.part ?? '',
      element,
      rate: element.querySelector<SVGTextElement>('[data-rate]')!,
    })),
    texts: [...root.querySelectorAll<SVGGElement>('.paper-text')].map(node),
  };
  return known;
}

/** The place on the paper under a pointer. */
export function onPaper(event: { clientX: number; clientY: number }): [number, number] {
  const matrix = scene().root.getScreenCTM();
  if (!matrix) return [0, 0];
  return [(event.clientX - matrix.e) / matrix.a, (event.clientY - matrix.f) / matrix.d];
}

/** Screen pixels for a unit of paper. */
export const paperScale = (): number => scene().root.getScreenCTM()?.a ?? 1;

export const overlay = (): SVGGElement => scene().root.querySelector<SVGGElement>('#overlay')!;

/** The plate, reference or folded region at a place on the paper. */
export const nodeAt = (x: number, y: number): Node | undefined =>
  scene().nodes.findLast(({ x: left, y: top, width, height }) => x >= left && x <= left + width && y >= top && y <= top + height);
