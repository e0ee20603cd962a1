// Zoom and pan of the paper. Without either, the whole of it is fitted into its pane.
import { onPaper, paperScale, scene } from './scene';

interface View {
  x: number;
  y: number;
  width: number;
  height: number;
}

const smallest = 0.04,
  largest = 6,
  farBelow = 0.55,
  fartherBelow = 0.3;
/** What the user zoomed or moved to; null while the whole paper is fitted. */
let own: View | null = null;
/** The fitted view, held while everything stays inside it, so that the paper does not jump under the hand that draws on it. */
let held: View | null = null;
/** The size of the pane in pixels, kept so that nothing has to be laid out to know it. */
let size = { width: 800, height: 430 };

function box(text: string | undefined): View {
  const [x = 0, y = 0, width = 800, height = 430] = (text ?? '').split(' ').map(Number);
  return { x, y, width, height };
}

const paper = (): View => box(scene().root.dataset.paper);

const holds = (view: View, { x, y, width, height }: View): boolean =>
  x >= view.x && y >= view.y && x + width <= view.x + view.width && y + height <= view.y + view.height;

/** What a view shows in a pane of another shape: more on two of its sides. */
function whole(view: View): View {
  const scale = Math.min(size.width / view.width, size.height / view.height),
    width = size.width / scale,
    height = size.height / scale;
  return { x: view.x - (width - view.width) / 2, y: view.y - (height - view.height) / 2, width, height };
}

function fitted(): View {
  if (!held || !holds(whole(held), box(scene().root.dataset.content))) held = paper();
  return held;
}

const shown = (): View => own ?? fitted();

/** From far away only what can be read is drawn. */
function detail(): void {
  const { width, height } = shown(),
    scale = Math.min(size.width / width, size.height / height),
    root = scene().root;
  root.classList.toggle('far', scale < farBelow);
  root.classList.toggle('farther', scale < fartherBelow);
  const words = document.getElementById('zoom-level');
  if (words) words.textContent = `${Math.round(100 * scale)} %`;
}

function show(view: View | null): void {
  own = view;
  const { x, y, width, height } = shown();
  const root = scene().root,
    box = `${x} ${y} ${width} ${height}`;
  // Setting it lays out the whole drawing, also to what it is already.
  if (root.getAttribute('viewBox') !== box) root.setAttribute('viewBox', box);
  detail();
}

/** Brings the view back after the server has drawn the paper anew. */
export function restoreView(): void {
  show(own);
}

export function fit(): void {
  held = null;
  show(null);
}

/** Scales around a place on the paper. */
export function zoomAt([x, y]: [number, number], factor: number): void {
  const view = shown(),
    scale = paperScale();
  const by = Math.min(largest, Math.max(smallest, scale * factor)) / scale;
  show({ x: x - (x - view.x) / by, y: y - (y - view.y) / by, width: view.width / by, height: view.height / by });
}

export function zoom(factor: number): void {
  const view = shown();
  zoomAt([view.x + view.width / 2, view.y + view.height / 2], factor);
}

/** Moves the paper by screen pixels, never so far that nothing of it is left to see. */
export function pan(dx: number, dy: number): void {
  const view = shown(),
    all = paper(),
    scale = paperScale();
  const within = (start: number, length: number, from: number, to: number): number =>
    Math.min(Math.max(start, from - 0.9 * length), to - 0.1 * length);
  show({
    ...view,
    x: within(view.x - dx / scale, view.width, all.x, all.x + all.width),
    y: within(view.y - dy / scale, view.height, all.y, all.y + all.height),
  });
}

/** Moves the paper so that an element can be seen. */
export function bringIntoView(element: Element): void {
  const box = element.getBoundingClientRect(),
    pane = scene().root.getBoundingClientRect();
  const dx = box.left < pane.left + 10 ? pane.left + 10 - box.left : box.right > pane.right - 10 ? pane.right - 10 - box.right : 0;
  const dy = box.top < pane.top + 10 ? pane.top + 10 - box.top : box.bottom > pane.bottom - 10 ? pane.bottom - 10 - box.bottom : 0;
  if (dx || dy) pan(dx, dy);
}

export function startView(pane: HTMLElement): void {
  pane.addEventListener(
    'wheel',
    event => {
      event.preventDefault();
      if (event.ctrlKey || event.metaKey) zoomAt(onPaper(event), Math.exp(-event.deltaY / 300));
      else if (event.shiftKey) pan(-event.deltaY, 0);
      else pan(-event.deltaX, -event.deltaY);
    },
    { passive: false },
  );
  new ResizeObserver(([entry]) => {
    if (entry) size = entry.contentRect;
    if (document.getElementById('diagram')) detail();
  }).observe(pane);
}
