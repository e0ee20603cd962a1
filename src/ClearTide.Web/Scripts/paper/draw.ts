// Flows are drawn from a plate's rim, or with the pen from anywhere, to a plate or to empty paper; Shift turns them round while they are drawn.
// With the pen two clicks do as well as a drag, and by keys F on a plate begins a flow, Enter on another ends it, and O leads it outside.
// The head of a ribbon, dragged to a second plate, fans the flow out; with Shift it leads there instead.
import { post } from '../build/post';
import { svg } from '../chart/svg';
import { openLine } from '../build/ledger';
import { follow } from './gesture';
import { offer } from './offer';
import { nodeAt, onPaper, overlay, scene, type Node, type Ribbon } from './scene';

/** Whether the pen is in hand: then any drag on the paper draws a flow. */
export const pen = { inHand: false };

/** The first end of a flow that waits for its second: a plate, or a place outside. */
let first: { node: Node | undefined; place: [number, number]; lines: Sketch } | null = null;

export const isWaiting = (): boolean => first !== null;

export function takePen(inHand: boolean): void {
  if (!inHand && first) {
    first = null;
    clear();
  }
  pen.inHand = inHand;
  document.getElementById('diagram-pane')?.classList.toggle('drawing', inHand);
  document.querySelector('[data-tool=pen]')?.setAttribute('aria-pressed', String(inHand));
}

const plateOf = (node: Node | undefined): Node | undefined => (node && node.part ? node : undefined);

function say(text: string): void {
  const hint = document.getElementById('gesture-hint');
  if (hint) hint.textContent = text;
}

const nameOf = (node: Node | undefined): string => document.getElementById(`line-${node?.part}`)?.dataset.spoken ?? 'outside';

/** Marks the plate under the pointer as one that takes the flow, or one that does not. */
function mark(target: Node | undefined, takes: boolean): void {
  for (const node of scene().nodes) {
    node.element.classList.toggle('takes', node === target && takes);
    node.element.classList.toggle('refuses', node === target && !takes);
  }
}

interface Sketch {
  line: SVGPathElement;
  head: SVGPathElement;
}

function sketch(): Sketch {
  const line = svg('path', { class: 'sketch stroke-tide stroke-3 opacity-70 pointer-events-none', fill: 'none' }),
    head = svg('path', { class: 'fill-tide pointer-events-none' });
  overlay().replaceChildren(line, head);
  return { line, head };
}

function drawSketch({ line, head }: Sketch, [ax, ay]: [number, number], [bx, by]: [number, number]): void {
  const length = Math.hypot(bx - ax, by - ay) || 1,
    ux = (bx - ax) / length,
    uy = (by - ay) / length;
  line.setAttribute('d', `M${ax} ${ay}L${bx - 10 * ux} ${by - 10 * uy}`);
  head.setAttribute(
    'd',
    `M${bx} ${by}L${bx - 12 * ux - 6 * uy} ${by - 12 * uy + 6 * ux}L${bx - 12 * ux + 6 * uy} ${by - 12 * uy - 6 * ux}Z`,
  );
}

function clear(): void {
  overlay().replaceChildren();
  mark(undefined, true);
  say('');
}

interface Ends {
  from: Node | undefined;
  to: Node | undefined;
  open: [number, number];
}

/** Adds the flow, after asking where there is one with the same ends. */
function make({ from, to, open }: Ends): void {
  takePen(false);
  // An open end is kept where it was drawn, from the corner of the plate at the other end.
  const plate = from && to ? undefined : (from ?? to);
  const add = (): void =>
    void post('DrawFlow', { from: from?.part ?? '', to: to?.part ?? '', ...(plate ? { x: open[0] - plate.x, y: open[1] - plate.y } : {}) });
  const same =
    from && to
      ? scene().ribbons.find(
          ribbon => ribbon.part && ribbon.from === from.id && ribbon.to === to.id && !ribbon.element.classList.contains('leg'),
        )
      : undefined;
  if (!same) return add();
  offer(same.middle, `There is a flow ${nameOf(from)} → ${nameOf(to)} already.`, [
    { words: 'Change it', act: () => void openLine(same.part) },
    { words: 'Draw a second one', act: add },
  ]);
}

const makesFlow = (from: Node | undefined, to: Node | undefined): boolean => (from ?? to) !== undefined && from?.part !== to?.part;

/** The first end has been given, by a click of the pen or by F on a plate; the sketch follows pointer and focus until the second is. */
export function beginFlow(node: Node | undefined, place: [number, number]): void {
  takePen(true);
  first = { node: plateOf(node), place, lines: sketch() };
  say(
    `from ${nameOf(plateOf(node))}: click a plate or the paper, or go to a plate and press Enter${plateOf(node) ? '; O leads it outside' : ''}`,
  );
}

/** The second end is given. False where it was no flow, and the pen still waits. */
export function endFlow(node: Node | undefined, place: [number, number], turned: boolean): boolean {
  if (!first) return false;
  const [source, target] = [first.node, plateOf(node)],
    [from, to] = turned ? [target, source] : [source, target];
  if (!makesFlow(from, to)) {
    say(from || to ? 'A flow from a compartment to itself moves nothing. Choose another plate.' : 'A flow begins or ends at a plate.');
    return false;
  }
  make({ from, to, open: source ? place : first.place });
  return true;
}

/** The sketch of a flow that waits for its second end leads to the pointer, or to the plate with the focus. */
export function showWaiting(place: [number, number], node: Node | undefined): void {
  if (!first) return;
  drawSketch(first.lines, first.node ? centreOf(first.node) : first.place, node ? centreOf(node) : place);
  mark(plateOf(node), makesFlow(first.node, plateOf(node)));
}

const centreOf = (node: Node): [number, number] => [node.x + node.width / 2, node.y + node.height / 2];

/** A place beside a plate where an open end can lie. */
export const beside = (node: Node): [number, number] => [node.x + node.width + 110, node.y + node.height / 2];

/** Draws a flow that begins at a plate, or at empty paper without one. */
export function drawFlow(event: PointerEvent, begun: Node | undefined): void {
  const start = onPaper(event),
    source = plateOf(begun);
  const lines = sketch();
  const ends = (at: PointerEvent): { from: Node | undefined; to: Node | undefined; place: [number, number]; makes: boolean } => {
    const place = onPaper(at),
      target = plateOf(nodeAt(...place));
    const [from, to] = at.shiftKey ? [target, source] : [source, target];
    return { from, to, place, makes: makesFlow(from, to) };
  };
  follow(event, {
    move: at => {
      const { from, to, place, makes } = ends(at);
      if (at.shiftKey) drawSketch(lines, place, start);
      else drawSketch(lines, start, place);
      mark(at.shiftKey ? from : to, makes);
      say(
        makes
          ? `${nameOf(from)} → ${nameOf(to)}${at.shiftKey ? '' : ' · Shift turns it round'}`
          : from || to
            ? 'A flow from a compartment to itself moves nothing.'
            : 'A flow begins or ends at a plate.',
      );
    },
    done: at => {
      const { from, to, place, makes } = ends(at);
      clear();
      if (makes) make({ from, to, open: source ? place : start });
      else takePen(false);
    },
    // A click of the pen is the first end; from a rim it means the plate.
    click: () => {
      if (pen.inHand) beginFlow(begun, start);
      else if (begun?.part) void openLine(begun.part, false);
    },
    cancel: clear,
  });
}

export function dragHead(event: PointerEvent, ribbon: Ribbon, onClick: () => void): void {
  const lines = sketch();
  const from: [number, number] = [ribbon.middle[0], ribbon.middle[1]];
  const isEnd = (node: Node | undefined): boolean =>
    scene().ribbons.some(other => other.part === ribbon.part && (other.to === node?.id || other.from === node?.id));
  follow(event, {
    move: at => {
      const place = onPaper(at),
        target = plateOf(nodeAt(...place));
      drawSketch(lines, from, place);
      mark(target, target !== undefined && !isEnd(target));
      say(
        target === undefined
          ? ribbon.to
            ? 'Drop the head on a second plate to fan out.'
            : 'The open end lies here.'
          : isEnd(target)
            ? 'The flow already has an end there.'
            : at.shiftKey
              ? `leads to ${nameOf(target)} instead`
              : `fans out to ${nameOf(target)} · Shift leads there instead`,
      );
    },
    done: at => {
      const place = onPaper(at),
        target = plateOf(nodeAt(...place));
      clear();
      if (target && !isEnd(target))
        void (at.shiftKey || !ribbon.to
          ? post('Lead', { partId: ribbon.part, leg: ribbon.leg, to: target.part })
          : post('FanOut', { partId: ribbon.part, to: target.part }));
      else if (!target && !ribbon.to) placeOpenEnd(ribbon, ribbon.from, place);
    },
    click: onClick,
    cancel: clear,
  });
}

/** The tail of a flow from outside, dragged to another place. */
export function placeOpenEnd(ribbon: Ribbon, plateId: string, place: [number, number]): void {
  const plate = scene().nodes.find(node => node.id === plateId);
  if (plate) void post('Shape', { partId: ribbon.part, leg: ribbon.leg, shape: 'Open', x: place[0] - plate.x, y: place[1] - plate.y });
}
