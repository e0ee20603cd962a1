// Plates are moved by pointer or arrow keys; their ribbons follow, and the server draws them properly after the drop.
import htmx from '../page/htmx';
import { openLine } from './ledger';

const origin = (plate: Element): [number, number] => {
  const match = /translate\(([-\d.]+)[ ,]+([-\d.]+)\)/.exec(plate.getAttribute('transform') ?? '');
  return match ? [Number(match[1]), Number(match[2])] : [0, 0];
};

/** Shifts the ends of all ribbons that dock at a plate: the first two points of a path belong to its start, the last two to its end. */
function carryRibbons(root: Element, part: string, dx: number, dy: number, paths: Map<Element, string>): void {
  for (const flow of root.querySelectorAll<SVGElement>('.flow')) {
    const [from, to] = [flow.dataset.from === part, flow.dataset.to === part];
    const path = flow.querySelector('.ribbon');
    if (!path || (!from && !to)) continue;
    if (!paths.has(path)) paths.set(path, path.getAttribute('d') ?? '');
    const numbers = (paths.get(path)!.match(/-?[\d.]+/g) ?? []).map(Number);
    // An open end travels with its plate.
    const startMoves = from || !flow.dataset.from, endMoves = to || !flow.dataset.to;
    const moved = numbers.map((value, k) => value + ((k < 4 ? startMoves : endMoves) ? (k % 2 ? dy : dx) : 0));
    path.setAttribute('d', `M${moved[0]} ${moved[1]} C${moved.slice(2).join(' ')}`);
    const head = flow.querySelector('.head');
    if (endMoves && head) head.setAttribute('transform', `translate(${moved[6]} ${moved[7]}) ${/rotate\([^)]*\)/.exec(head.getAttribute('transform') ?? '')?.[0] ?? ''}`);
  }
}

const post = (part: string, x: number, y: number): void => {
  void htmx.ajax('post', '?handler=Move', { source: '#diagram-pane', target: '#workspace', swap: 'morph:outerHTML', values: { partId: part, x: Math.round(x), y: Math.round(y) } });
};

export function startDragging(pane: HTMLElement): void {
  pane.addEventListener('pointerdown', event => {
    const plate = (event.target as Element).closest<SVGGElement>('.plate');
    const root = pane.querySelector<SVGSVGElement>('#diagram');
    if (!plate || !root || event.button !== 0 || event.ctrlKey || event.metaKey) return;
    event.preventDefault();
    plate.focus();
    const part = plate.dataset.part!;
    const [x0, y0] = origin(plate);
    const paths = new Map<Element, string>();
    const scale = root.getScreenCTM()?.a ?? 1;
    let dx = 0, dy = 0, moved = false;
    const move = (at: PointerEvent): void => {
      dx = (at.clientX - event.clientX) / scale;
      dy = (at.clientY - event.clientY) / scale;
      if (!moved && Math.hypot(dx, dy) < 4) return;
      moved = true;
      plate.setAttribute('transform', `translate(${x0 + dx} ${y0 + dy})`);
      carryRibbons(root, part, dx, dy, paths);
    };
    const end = (at: PointerEvent): void => {
      plate.removeEventListener('pointermove', move);
      plate.removeEventListener('pointerup', end);
      plate.removeEventListener('pointercancel', end);
      if (at.type === 'pointercancel') {
        plate.setAttribute('transform', `translate(${x0} ${y0})`);
        carryRibbons(root, part, 0, 0, paths);
      } else if (moved) post(part, x0 + dx, y0 + dy);
      else openLine(part);
    };
    plate.setPointerCapture(event.pointerId);
    plate.addEventListener('pointermove', move);
    plate.addEventListener('pointerup', end);
    plate.addEventListener('pointercancel', end);
  });
  pane.addEventListener('click', event => {
    const flow = (event.target as Element).closest<SVGElement>('.flow');
    if (flow) openLine(flow.dataset.part!);
  });
  const steps: Record<string, [number, number]> = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] };
  pane.addEventListener('keydown', event => {
    const plate = (event.target as Element).closest<SVGGElement>('.plate');
    if (!plate) return;
    const step = steps[event.key];
    if (step) {
      event.preventDefault();
      const [x, y] = origin(plate);
      const length = event.shiftKey ? 48 : 12;
      plate.setAttribute('transform', `translate(${x + step[0] * length} ${y + step[1] * length})`);
      post(plate.dataset.part!, x + step[0] * length, y + step[1] * length);
    } else if (event.key === 'Enter' || event.key === ' ') {
      event.preventDefault();
      openLine(plate.dataset.part!);
    }
  });
}
