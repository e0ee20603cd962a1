// What the chosen part depends on and what depends on it, with signs: in the diagram, in the ledger, and in words in its form. The rest fades.
import { svg } from '../chart/svg';
import { openPart } from '../build/ledger';
import { scene, type Node, type Ribbon, type Scene } from './scene';

type Sign = 'more' | 'less' | 'both';

interface Influence {
  from: string;
  to: string;
  sign: Sign;
}

const glyph: Record<Sign, string> = { more: '+', less: '−', both: '±' };

let all = false;
let waiting = 0;
let asked = 0;
let last: { part: string; own: Influence[]; drawn: Influence[] } = { part: '', own: [], drawn: [] };

const nameOf = (part: string): string => document.getElementById(`line-${part}`)?.dataset.spoken ?? part;

const sentence = ({ from, to, sign }: Influence): string =>
  sign === 'both' ? `more ${nameOf(from)}, now more and now less ${nameOf(to)}` : `more ${nameOf(from)}, ${sign} ${nameOf(to)}`;

const layer = (): SVGGElement | null => scene().root.querySelector<SVGGElement>('#dependencies');

/** A dotted line from a plate to the flow it moves, with the sign at its end. */
function line(from: Node, to: Ribbon, influence: Influence, along: number): SVGElement {
  const length = to.ribbon.getTotalLength(),
    { x: x2, y: y2 } = to.ribbon.getPointAtLength(along * length),
    x1 = from.x + from.width / 2,
    below = y2 >= from.y + from.height / 2,
    y1 = below ? from.y + from.height : from.y;
  const drop = 40 + 0.12 * Math.abs(x2 - x1);
  const path = `M${x1} ${y1}C${x1} ${y1 + (below ? drop : -drop)} ${x2} ${y2 + (below ? drop : -drop)} ${x2} ${y2 + (y2 > y1 === below && Math.abs(y2 - y1) > 60 ? (below ? -12 : 12) : below ? 12 : -12)}`;
  return svg(
    'g',
    { class: `dependency ${influence.sign}` },
    svg('path', { d: path }),
    svg('circle', { cx: x2, cy: y2, r: 8 }),
    svg('text', { x: x2, y: y2 + 4, 'text-anchor': 'middle' }, glyph[influence.sign]),
    svg('title', {}, sentence(influence)),
  );
}

let held: { paper: Scene; said: string; count: number } | null = null;

function draw(influences: Influence[]): void {
  const paper = scene(),
    said = JSON.stringify(influences);
  // Places along ribbons make the browser lay out the drawing: what stands there already stays.
  if (held?.paper === paper && held.said === said && layer()?.childElementCount === held.count) return;
  const { nodes, ribbons } = paper;
  const drawn = influences.flatMap(influence => {
    const from = nodes.find(node => node.part === influence.from && node.id === node.part),
      to = ribbons.find(ribbon => ribbon.part === influence.to);
    return from && to ? [{ from, to, influence }] : [];
  });
  // Several that end at one ribbon spread along it.
  layer()?.replaceChildren(
    ...drawn.map(one => {
      const row = drawn.filter(other => other.to === one.to).sort((a, b) => a.from.x - b.from.x || a.from.y - b.from.y);
      return line(one.from, one.to, one.influence, 0.15 + (0.7 * (row.indexOf(one) + 0.5)) / row.length);
    }),
  );
  held = { paper, said, count: drawn.length };
}

/** Parts that are neither chosen nor tied to what is chosen stand back. */
function fade(part: string, influences: Influence[]): void {
  const tied = new Map<string, Sign>();
  for (const { from, to, sign } of influences) tied.set(from === part ? to : from, sign);
  const { root, nodes, ribbons, reactionNodes } = scene();
  const weighed = part !== '' && tied.size > 0;
  root.classList.toggle('weighing', weighed);
  for (const { element, part: id } of [...nodes, ...ribbons, ...reactionNodes])
    element.classList.toggle('tied', weighed && (id === part || tied.has(id)));
  const ledger = document.getElementById('ledger');
  ledger?.classList.toggle('weighing', weighed);
  for (const item of document.querySelectorAll<HTMLElement>('.line-item.tied')) {
    if (weighed && tied.has(item.dataset.part ?? '')) continue;
    item.classList.remove('tied');
    item.querySelector('.line-sign')?.remove();
  }
  if (weighed) for (const [id, sign] of tied) mark(document.getElementById(`line-${id}`), sign);
}

function mark(item: HTMLElement | null, sign: Sign): void {
  if (!item) return;
  item.classList.add('tied');
  const place = item.querySelector('.line-sign') ?? document.createElement('span');
  if (place.textContent === glyph[sign]) return;
  place.className = `line-sign ${sign}`;
  place.textContent = glyph[sign];
  item.querySelector('.line-symbol')?.append(place);
}

const list = (influences: Influence[], other: (influence: Influence) => string): string =>
  influences.map(influence => `${nameOf(other(influence))} ${glyph[influence.sign]}`).join(', ');

function tell(part: string, influences: Influence[]): void {
  const place = document.querySelector<HTMLElement>(`#form-${part} .influences`);
  if (!place) return;
  const by = influences.filter(influence => influence.to === part),
    moves = influences.filter(influence => influence.from === part);
  const words = [
    by.length ? `moved by ${list(by, influence => influence.from)}` : '',
    moves.length ? `moves ${list(moves, influence => influence.to)}` : '',
  ]
    .filter(Boolean)
    .join('; ');
  if (place.textContent !== words) place.textContent = words;
}

const fetched = async (part: string): Promise<Influence[]> =>
  (await (await fetch(`?handler=Influences&partId=${encodeURIComponent(part)}`)).json()) as Influence[];

async function show(): Promise<void> {
  const part = openPart(),
    turn = ++asked;
  try {
    const influences = part === '' ? [] : await fetched(part);
    const shown = all ? await fetched('') : influences;
    if (turn !== asked) return;
    last = { part, own: influences, drawn: shown };
    draw(shown);
    fade(part, influences);
    if (part !== '') tell(part, influences);
  } catch {
    // Without the server nothing new is known about the model; what is drawn stays.
  }
}

/** Shows what the open part is tied to, shortly after things have come to rest; until then what was known stays. */
export function showInfluences(): void {
  if (last.part === openPart()) {
    draw(last.drawn);
    fade(last.part, last.own);
    if (last.part !== '') tell(last.part, last.own);
  }
  clearTimeout(waiting);
  waiting = setTimeout(() => void show(), 350);
}

export function toggleAll(): boolean {
  all = !all;
  void show();
  return all;
}
