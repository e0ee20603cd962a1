// The small chart of an input or a response curve: its points and handles are dragged, added and removed.
import { frame, type Frame } from '../chart/frame';
import { drawLine } from '../chart/marks';
import { amount } from '../chart/numbers';
import { svg } from '../chart/svg';
import htmx from '../page/htmx';

interface Picture {
  points: [number, number][];
  step: boolean;
  ends: number | null;
  xUnit: string;
  samples: [number, number][];
  handles: { field: string; x: number; y: number; isPlain: boolean }[];
}

const digits = (value: number): string => String(Number(value.toPrecision(4)));

const post = (handler: string, values: Record<string, string>): void => {
  void htmx.ajax('post', `?handler=${handler}`, { source: '#diagram-pane', target: '#workspace', swap: 'morph:outerHTML', values });
};

function save(part: string, points: [number, number][]): void {
  post('Field', { partId: part, field: 'Points', value: points.map(([x, y]) => `${x}\t${y}`).join('\n') });
}

/** Follows the pointer from a press on a mark to its release. */
function drag(event: PointerEvent, at: Frame, mark: SVGElement, done: (x: number, y: number) => void): void {
  event.preventDefault();
  event.stopPropagation();
  const box = at.root.getBoundingClientRect();
  let moved = false;
  const place = (to: PointerEvent): [number, number] => [at.x.invert(to.clientX - box.left), at.y.invert(to.clientY - box.top)];
  const move = (to: PointerEvent): void => {
    moved = true;
    const [x, y] = place(to);
    mark.setAttribute('cx', String(at.x(x)));
    mark.setAttribute('cy', String(at.y(y)));
  };
  const end = (to: PointerEvent): void => {
    removeEventListener('pointermove', move);
    removeEventListener('pointerup', end);
    if (moved) done(...place(to));
  };
  addEventListener('pointermove', move);
  addEventListener('pointerup', end);
}

function drawPoint(at: Frame, part: string, points: [number, number][], k: number): void {
  const [x, y] = points[k]!;
  const mark = svg('circle', {
    cx: at.x(x),
    cy: at.y(y),
    r: 4.5,
    class: 'point handle fill-sheet stroke-ink stroke-[1.6] cursor-grab',
    tabindex: 0,
    role: 'button',
    'aria-label': `Point ${k + 1}: ${amount(x)}, ${amount(y)}`,
  });
  // A point stays between its neighbours.
  const put = (toX: number, toY: number): void => {
    const least = k > 0 ? points[k - 1]![0] : -Infinity,
      most = k + 1 < points.length ? points[k + 1]![0] : Infinity;
    const next = points.map(point => [...point] as [number, number]);
    const newX = Number(digits(toX));
    next[k] = [newX > least && newX < most ? newX : x, Number(digits(toY))];
    save(part, next);
  };
  mark.addEventListener('pointerdown', event => drag(event, at, mark, put));
  mark.addEventListener('keydown', event => {
    const key = event.key;
    const stepX = (at.x.domain()[1]! - at.x.domain()[0]!) / 50,
      stepY = (at.y.domain()[1]! - at.y.domain()[0]!) / 25;
    const by = (
      { ArrowLeft: [-stepX, 0], ArrowRight: [stepX, 0], ArrowUp: [0, stepY], ArrowDown: [0, -stepY] } as Record<string, [number, number]>
    )[key];
    if (by) put(x + by[0], y + by[1]);
    else if ((key === 'Delete' || key === 'Backspace') && points.length > 1)
      save(
        part,
        points.filter((_, other) => other !== k),
      );
    else return;
    event.preventDefault();
    event.stopPropagation();
  });
  at.root.append(mark);
}

function draw(place: HTMLElement): void {
  const part = place.dataset.points!,
    picture = JSON.parse(place.dataset.picture ?? '{}') as Picture;
  const box = place.getBoundingClientRect();
  const all = [...picture.samples, ...picture.points];
  const xs = all.map(([x]) => x),
    ys = all.map(([, y]) => y);
  const [low, high] = [Math.min(0, ...ys), Math.max(0, ...ys)];
  const at = frame({
    width: Math.max(240, box.width),
    height: Math.max(110, box.height),
    xDomain: [Math.min(...xs), Math.max(...xs)],
    yMax: high > low ? high : 1,
    yMin: low,
    xUnit: picture.xUnit,
    yTitle: '',
    label: place.getAttribute('aria-label') ?? '',
    rightMargin: 40,
  });
  if (picture.ends !== null && picture.ends < at.x.domain()[1]!) {
    const x = at.x(picture.ends);
    at.plot.append(svg('line', { x1: x, x2: x, y1: at.top, y2: at.bottom, class: 'stroke-ink [stroke-dasharray:3_3]' }));
    at.root.append(svg('text', { x: x + 4, y: at.top + 10, class: 'text-xs' }, 'points end'));
  }
  drawLine(
    at,
    picture.samples.map(([x]) => x),
    picture.samples.map(([, y]) => y),
    'line stroke-ink stroke-[1.6]',
  );
  for (let k = 0; k < picture.points.length; k++) drawPoint(at, part, picture.points, k);
  for (const handle of picture.handles.filter(candidate => candidate.isPlain)) {
    const mark = svg('circle', {
      cx: at.x(handle.x),
      cy: at.y(handle.y),
      r: 5.5,
      class: 'point handle law fill-tide-soft stroke-tide stroke-[1.6] cursor-grab',
      tabindex: 0,
      role: 'button',
      'aria-label': `${handle.field}: ${amount(handle.x)}`,
    });
    const put = (x: number, y: number): void => post('Handle', { partId: part, field: handle.field, x: digits(x), y: digits(y) });
    mark.append(svg('title', {}, handle.field.toLowerCase()));
    mark.addEventListener('pointerdown', event => drag(event, at, mark, put));
    mark.addEventListener('keydown', event => {
      const step = (at.x.domain()[1]! - at.x.domain()[0]!) / 50,
        key = event.key;
      const by = key === 'ArrowLeft' ? -step : key === 'ArrowRight' ? step : 0;
      const up = (at.y.domain()[1]! - at.y.domain()[0]!) / 25,
        rise = key === 'ArrowUp' ? up : key === 'ArrowDown' ? -up : 0;
      if (by === 0 && rise === 0) return;
      event.preventDefault();
      event.stopPropagation();
      put(handle.x + by, handle.y + rise);
    });
    at.root.append(mark);
  }
  at.root.addEventListener('dblclick', event => {
    if (picture.handles.length > 0) return;
    const inside = at.root.getBoundingClientRect();
    const x = Number(digits(at.x.invert(event.clientX - inside.left))),
      y = Number(digits(at.y.invert(event.clientY - inside.top)));
    if (picture.points.every(point => point[0] !== x))
      save(
        part,
        [...picture.points, [x, y] as [number, number]].sort((a, b) => a[0] - b[0]),
      );
  });
  place.replaceChildren(at.root);
}

/** Draws each chart whose picture is new. */
export function drawPoints(root: ParentNode): void {
  for (const place of root.querySelectorAll<HTMLElement>('[data-points]'))
    if (place.dataset.drawn !== place.dataset.picture || place.childElementCount === 0) {
      draw(place);
      place.dataset.drawn = place.dataset.picture;
    }
}

/** A chosen file is read into the field of points, so that file, paste and typing go the same way. */
export function startPoints(root: HTMLElement): void {
  root.addEventListener('change', async event => {
    const file = event.target as HTMLInputElement;
    const field = file.dataset.pointsFile ? (document.getElementById(file.dataset.pointsFile) as HTMLTextAreaElement | null) : null;
    if (!field || !file.files?.[0] || file.files[0].size > 1_000_000) return;
    field.value = await file.files[0].text();
    field.dispatchEvent(new Event('change', { bubbles: true }));
  });
}
