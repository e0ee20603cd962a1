// The diagram's paper: sends each press of the pointer and each key to the gesture that it begins.
import { chosenParts } from '../build/selection';
import { openLine, openPart } from '../build/ledger';
import { post } from '../build/post';
import { drawBox, dragPaper } from './box';
import { beginFlow, beside, dragHead, drawFlow, endFlow, isWaiting, pen, showWaiting, takePen } from './draw';
import { toggleAll } from './influence';
import { dragNode, nudge } from './move';
import { ask } from './name';
import { align, arrange, spread, type Edge } from './order';
import { startPictures } from './picture';
import { nodeAt, onPaper, scene, type Node, type Ribbon } from './scene';
import { dragCaption, dragHandle, showHandles, straighten } from './shape';
import { staffs } from './levels';
import { travel } from './travel';
import { fit, pan, startView, zoom } from './view';

const nodeOf = (element: Element): Node | undefined => {
  const group = element.closest('.plate, .paper-text');
  return [...scene().nodes, ...scene().texts].find(node => node.element === group);
};

const ribbonOf = (element: Element): Ribbon | undefined => scene().ribbons.find(ribbon => ribbon.element === element.closest('.flow'));

let spaceHeld = false;

function press(event: PointerEvent): void {
  const target = event.target as Element;
  if (target.closest('.paper-field')) return;
  if (event.button === 1 || (event.button === 0 && spaceHeld)) {
    event.preventDefault();
    dragPaper(event);
    return;
  }
  if (event.button !== 0 || event.ctrlKey || event.metaKey || !target.closest('#diagram')) return;
  event.preventDefault();
  const ribbon = ribbonOf(target),
    node = nodeOf(target);
  const openFlow = (): void => {
    if (!ribbon?.part) return;
    ribbon.element.focus({ preventScroll: true });
    void openLine(ribbon.part, false);
  };
  if (isWaiting()) endFlow(node, onPaper(event), event.shiftKey);
  else if (pen.inHand) drawFlow(event, node);
  else if (target.closest('.handle')) dragHandle(event, target.closest<SVGCircleElement>('.handle')!);
  else if (target.closest('.region-fold')) fold(target.closest<SVGElement>('[data-region]')!.dataset.region!, true);
  else if (target.closest('.rim')) drawFlow(event, node);
  else if (node) dragNode(event, node, chosenParts());
  else if (target.closest('.reaction-node')) {
    const reactionNode = target.closest<SVGElement>('.reaction-node')!;
    reactionNode.focus({ preventScroll: true });
    void openLine(reactionNode.dataset.part!, false);
  } else if (ribbon?.element.classList.contains('leg')) openFlow();
  else if (ribbon?.part && target.closest('.head')) dragHead(event, ribbon, openFlow);
  else if (ribbon?.part && target.closest('.caption')) dragCaption(event, target.closest<SVGGElement>('.caption')!, openFlow);
  else if (ribbon) openFlow();
  else drawBox(event, () => (document.activeElement as HTMLElement | null)?.blur());
}

function newPlate(pane: HTMLElement, [x, y]: [number, number]): void {
  ask(pane, { place: [x, y], words: 'name of the compartment', keep: name => void post('Plate', { name, x: x - 56, y: y - 36 }) });
}

function doublePress(pane: HTMLElement, event: MouseEvent): void {
  const target = event.target as Element;
  const handle = target.closest('.handle'),
    region = target.closest<SVGElement>('[data-region]'),
    text = target.closest<SVGElement>('.paper-text');
  if (handle) straighten(handle);
  else if (target.closest('.plate.folded')) fold(region!.dataset.region!, false);
  else if (target.closest('.region-name')) renameRegion(pane, region!);
  else if (text) editText(pane, text);
  else if (target.closest('.caption') && ribbonOf(target)?.part)
    void post('Shape', { partId: ribbonOf(target)!.part, leg: ribbonOf(target)!.leg, shape: 'Caption' });
  else if (target.closest('.plate, .flow, .reaction-node'))
    void openLine(target.closest<SVGElement>('.plate, .flow, .reaction-node')!.dataset.part ?? '');
  else if (target.closest('#diagram')) newPlate(pane, onPaper(event));
}

const fold = (regionId: string, folded: boolean): void => void post('Fold', { regionId, folded });

function renameRegion(pane: HTMLElement, region: SVGElement): void {
  const name = region.querySelector('.region-name')!;
  const box = (name as SVGGraphicsElement).getBBox();
  ask(pane, {
    place: [box.x, box.y],
    words: 'name of the region',
    value: name.textContent ?? '',
    keep: label => void post('RenameRegion', { regionId: region.dataset.region!, label }),
  });
}

function editText(pane: HTMLElement, text: SVGElement): void {
  const node = scene().texts.find(one => one.element === text);
  if (!node) return;
  const words = [...text.querySelectorAll('tspan')]
    .map(line => line.textContent?.trim() ?? '')
    .join(' ')
    .trim();
  ask(pane, {
    place: [node.x, node.y],
    words: 'text on the paper',
    value: words,
    many: true,
    keep: changed => void post('Text', { textId: node.id, text: changed }),
  });
}

/** A free place in view for something new. */
function inView(): [number, number] {
  const box = scene().root.getBoundingClientRect();
  for (let k = 0; k < 40; k++) {
    const place = onPaper({
      clientX: box.left + box.width * (0.5 + 0.08 * (k % 5)),
      clientY: box.top + box.height * (0.35 + 0.06 * Math.floor(k / 5)),
    });
    if (!nodeAt(place[0] - 50, place[1] - 30) && !nodeAt(place[0] + 50, place[1] + 30)) return place;
  }
  return onPaper({ clientX: box.left + box.width / 2, clientY: box.top + box.height / 2 });
}

/** The compartments a tool works on: what is chosen, else the open one, else all of them. */
function plates(): Set<string> {
  const own = (id: string): boolean => scene().nodes.some(node => node.part === id || node.members.includes(id));
  const chosen = [...chosenParts()].filter(own);
  return new Set(chosen.length ? chosen : own(openPart()) ? [openPart()] : []);
}

const tools: Record<string, (pane: HTMLElement, element: HTMLElement | null) => void> = {
  fit: () => fit(),
  in: () => zoom(1.25),
  out: () => zoom(0.8),
  pen: () => takePen(!pen.inHand),
  plate: pane => newPlate(pane, inView()),
  text: pane => {
    const [x, y] = inView();
    ask(pane, { place: [x, y], words: 'text on the paper', many: true, keep: text => void post('Text', { text, x, y }) });
  },
  arrange: () => void arrange(),
  spread: () => spread(plates()),
  align: (_, element) => align(plates(), (element?.dataset.edge ?? 'middle') as Edge),
  pin: () => {
    const ids = [...plates()],
      pinned = ids.every(id =>
        scene()
          .nodes.find(node => node.id === id)
          ?.element.classList.contains('pinned'),
      );
    if (ids.length) void post('Pin', { partIds: ids.join(','), pinned: !pinned });
  },
  region: pane => {
    const ids = [...plates()];
    if (ids.length)
      ask(pane, { place: inView(), words: 'name of the region', keep: label => void post('Region', { label, partIds: ids.join(',') }) });
  },
  module: pane => {
    // Values and quantities that are chosen in the ledger come along.
    const ids = [...new Set([...plates(), ...chosenParts()])];
    if (ids.length)
      ask(pane, {
        place: inView(),
        words: 'name of the module, as pond',
        keep: name => void post('Module', { name, partIds: ids.join(',') }),
      });
  },
  reference: () => {
    const [first] = plates(),
      [x, y] = inView();
    if (first) void post('Reference', { partId: first, x: x - 46, y: y - 20 });
  },
  note: () => {
    const part = openPart(),
      node = scene().nodes.find(one => one.part === part),
      ribbon = scene().ribbons.find(one => one.part === part);
    const [x, y] = node ? [node.x, node.y + node.height + 8] : ribbon ? [ribbon.middle[0] + 20, ribbon.middle[1] + 30] : inView();
    if (part) void post('Note', { partId: part, x, y });
  },
  dependencies: (_, element) => element?.setAttribute('aria-pressed', String(toggleAll())),
  staffs: (_, element) => {
    staffs.common = !staffs.common;
    element?.setAttribute('aria-pressed', String(staffs.common));
    document.dispatchEvent(new CustomEvent('look-changed'));
  },
};

const keys: Record<string, string> = {
  '0': 'fit',
  '+': 'in',
  '=': 'in',
  '-': 'out',
  f: 'pen',
  n: 'plate',
  t: 'text',
  a: 'arrange',
  p: 'pin',
  g: 'region',
  d: 'dependencies',
  s: 'staffs',
  m: 'note',
};

function runTool(pane: HTMLElement, name: string): void {
  tools[name]?.(pane, document.querySelector<HTMLElement>(`[data-tool="${name}"]`));
}

const steps: Record<string, [number, number]> = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] };

function keyOnPart(event: KeyboardEvent): boolean {
  const target = event.target as Element,
    node = nodeOf(target),
    own = ribbonOf(target),
    reactionNode = target.closest<SVGElement>('.reaction-node')?.dataset.part,
    region = target.closest<SVGElement>('[data-region]');
  // Ribbons of reactions have no shape of their own.
  const ribbon = own?.element.classList.contains('leg') ? undefined : own,
    part = node?.part || own?.part || reactionNode;
  if (isWaiting() && node && event.key === 'Enter') return (endFlow(node, beside(node), event.shiftKey), true);
  if (isWaiting() && node && event.key === 'o') return (endFlow(undefined, beside(node), event.shiftKey), true);
  if (!isWaiting() && node?.part && event.key === 'f') return (beginFlow(node, [node.x + node.width / 2, node.y + node.height / 2]), true);
  if (event.key === 'Enter' || event.key === ' ') {
    if (region) fold(region.dataset.region!, !target.closest('.plate'));
    else if (target.closest('.paper-text')) editText(document.getElementById('diagram-pane')!, target.closest<SVGElement>('.paper-text')!);
    else if (part) void openLine(part);
    else return false;
    return true;
  }
  if (travel(target, event.key)) return true;
  const step = steps[event.key];
  if (node && step) {
    const length = event.shiftKey ? 48 : 12;
    nudge(node, chosenParts(), step[0] * length, step[1] * length);
    return true;
  }
  if (region && event.key === 'Delete') return (void post('Dissolve', { regionId: region.dataset.region! }), true);
  if (event.key === 'Delete' && target.closest('.paper-text, .reference')) return (void post('RemoveMark', { markId: node!.id }), true);
  if (event.key === 'Delete' && chosenParts().size === 0 && part) return (void post('Remove', { partIds: part }), true);
  if (event.key === 'r' && ribbon?.part) return (void post('Reverse', { partId: ribbon.part }), true);
  if ((event.key === '[' || event.key === ']') && ribbon?.part) return (sizeByKey(ribbon, event.key === '[' ? -2 : 2), true);
  if ((event.key === 'b' || event.key === 'B') && ribbon?.part) return (bendByKey(ribbon, event.key === 'B' ? -20 : 20), true);
  return false;
}

function bendByKey(ribbon: Ribbon, by: number): void {
  const [x = 0, y = 0] = (ribbon.element.dataset.bend ?? '').split(' ').filter(Boolean).map(Number);
  void post('Shape', { partId: ribbon.part, leg: ribbon.leg, shape: 'Bend', x, y: y + by });
}

/** Smaller or larger type for a flow's caption, within what can be read. */
function sizeByKey(ribbon: Ribbon, by: number): void {
  const size = Math.round(Number(ribbon.element.querySelector<SVGElement>('.caption')?.dataset.type ?? 13.5)) + by;
  void post('Shape', { partId: ribbon.part, leg: ribbon.leg, shape: 'Size', size: Math.min(40, Math.max(9, size)) });
}

export function startPaper(root: HTMLElement): void {
  const pane = root.querySelector<HTMLElement>('#diagram-pane')!;
  startView(pane);
  startPictures(root);
  pane.addEventListener('pointerdown', press);
  pane.addEventListener('dblclick', event => doublePress(pane, event));
  pane.addEventListener('pointermove', event => showWaiting(onPaper(event), nodeAt(...onPaper(event))));
  pane.addEventListener('focusin', event => {
    if (nodeOf(event.target as Element)) showWaiting([0, 0], nodeOf(event.target as Element));
  });
  root.addEventListener('click', event => {
    const tool = (event.target as Element).closest<HTMLElement>('[data-tool]');
    if (tool) tools[tool.dataset.tool!]?.(pane, tool);
  });
  document.addEventListener('keydown', event => {
    const target = event.target as Element;
    if (
      event.defaultPrevented ||
      event.ctrlKey ||
      event.metaKey ||
      event.altKey ||
      target.closest('input, textarea, select, dialog, [contenteditable]')
    )
      return;
    if (event.key === ' ' && (target === document.body || target.closest('#diagram') === target)) spaceHeld = true;
    // What was clicked in a toolbar keeps the focus, and the keys go on to mean the paper.
    const onDiagram = target.closest('#diagram') !== null,
      onTools = target.closest('.diagram-tools, .selection-bar') !== null;
    if (onDiagram && keyOnPart(event)) {
      event.preventDefault();
      return;
    }
    const step = steps[event.key];
    if (event.key === 'Escape' && pen.inHand) takePen(false);
    else if (step && target === document.body) pan(-60 * step[0], -60 * step[1]);
    else if ((onDiagram || onTools || target === document.body) && keys[event.key]) runTool(pane, keys[event.key]!);
    else return;
    event.preventDefault();
  });
  addEventListener('keyup', event => {
    if (event.key === ' ') spaceHeld = false;
  });
  document.addEventListener('drawn', event => void openLine((event as CustomEvent<{ part: string }>).detail.part));
  document.addEventListener('part-marked', () => showHandles(openPart()));
  if (root.dataset.arrange) {
    // A model that was just imported: once, and not again when the page is loaded anew.
    history.replaceState(null, '', location.pathname);
    void arrange();
  }
}
