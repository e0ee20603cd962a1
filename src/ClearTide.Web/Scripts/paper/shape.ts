// The handle in the middle of a chosen ribbon bends it, that at an open start moves it, and captions are dragged to a place of their own.
import { post } from '../build/post';
import { svg } from '../chart/svg';
import { follow } from './gesture';
import { onPaper, overlay, scene, type Ribbon } from './scene';
import { placeOpenEnd } from './draw';

let shown = '';

/** Ribbons of reactions run where their node lies. */
const isLeg = (ribbon: Ribbon): boolean => ribbon.element.classList.contains('leg');

/** Handles of one flow's ribbons; none for an empty id. */
export function showHandles(part: string): void {
  shown = part;
  const handles = scene()
    .ribbons.filter(ribbon => part !== '' && ribbon.part === part && !isLeg(ribbon))
    .flatMap(ribbon => {
      const [x, y] = ribbon.middle;
      const all = [
        svg(
          'circle',
          { class: 'handle', cx: x, cy: y, r: 6, 'data-handle': 'bend', 'data-leg': ribbon.leg },
          svg('title', {}, 'Drag to bend the ribbon, double click to straighten it'),
        ),
      ];
      if (!ribbon.from) {
        const [sx, sy] = startOf(ribbon);
        all.push(
          svg(
            'circle',
            { class: 'handle', cx: sx, cy: sy, r: 6, 'data-handle': 'open', 'data-leg': ribbon.leg },
            svg('title', {}, 'Drag to move the open end'),
          ),
        );
      }
      return all;
    });
  overlay().replaceChildren(...handles);
}

export const restoreHandles = (): void => showHandles(shown);

function startOf(ribbon: Ribbon): [number, number] {
  const [, x = '0', y = '0'] = /M(-?[\d.]+) (-?[\d.]+)/.exec(ribbon.ribbon.getAttribute('d') ?? '') ?? [];
  return [Number(x), Number(y)];
}

const ribbonOf = (leg: string | undefined): Ribbon | undefined =>
  scene().ribbons.find(ribbon => ribbon.part === shown && ribbon.leg === Number(leg));

/** The natural middle of a ribbon: where it would run without its bend. */
const bendOf = (ribbon: Ribbon): [number, number] => {
  const [x = 0, y = 0] = (ribbon.element.dataset.bend ?? '').split(' ').filter(Boolean).map(Number);
  return [x, y];
};

function bent(path: string, dx: number, dy: number): string {
  const [x1, y1, cx1, cy1, cx2, cy2, x2, y2] = (path.match(/-?[\d.]+/g) ?? []).map(Number) as [
    number,
    number,
    number,
    number,
    number,
    number,
    number,
    number,
  ];
  // The middle moves with three quarters of what both control points move by.
  const [bx, by] = [(4 * dx) / 3, (4 * dy) / 3];
  return `M${x1} ${y1} C${cx1 + bx} ${cy1 + by} ${cx2 + bx} ${cy2 + by} ${x2} ${y2}`;
}

export function dragHandle(event: PointerEvent, handle: SVGCircleElement): void {
  const ribbon = ribbonOf(handle.dataset.leg);
  if (!ribbon) return;
  const start = onPaper(event),
    path = ribbon.ribbon.getAttribute('d') ?? '',
    opens = handle.dataset.handle === 'open';
  const by = (at: PointerEvent): [number, number] => {
    const [x, y] = onPaper(at);
    return [x - start[0], y - start[1]];
  };
  const put = (next: string): void => {
    ribbon.ribbon.setAttribute('d', next);
    ribbon.reach.setAttribute('d', next);
  };
  follow(event, {
    move: at => {
      const [dx, dy] = by(at);
      handle.setAttribute('transform', `translate(${dx} ${dy})`);
      if (!opens) put(bent(path, dx, dy));
    },
    done: at => {
      const [dx, dy] = by(at),
        [bentX, bentY] = bendOf(ribbon);
      if (opens) placeOpenEnd(ribbon, ribbon.to, onPaper(at));
      else void post('Shape', { partId: ribbon.part, leg: ribbon.leg, shape: 'Bend', x: bentX + dx, y: bentY + dy });
    },
    cancel: () => {
      handle.removeAttribute('transform');
      put(path);
    },
  });
}

export function straighten(handle: Element): void {
  const ribbon = ribbonOf((handle as SVGElement).dataset.leg);
  if (ribbon)
    void post('Shape', { partId: ribbon.part, leg: ribbon.leg, shape: (handle as SVGElement).dataset.handle === 'open' ? 'Open' : 'Bend' });
}

export function dragCaption(event: PointerEvent, caption: SVGGElement, onClick: () => void): void {
  const ribbon = scene().ribbons.find(one => one.element.contains(caption));
  if (!ribbon || !ribbon.part) return;
  const start = onPaper(event),
    [x = 0, y = 0] = (caption.dataset.at ?? '').split(' ').map(Number);
  const by = (at: PointerEvent): [number, number] => {
    const place = onPaper(at);
    return [place[0] - start[0], place[1] - start[1]];
  };
  follow(event, {
    move: at => caption.setAttribute('transform', `translate(${by(at).join(' ')})`),
    done: at => {
      const [dx, dy] = by(at);
      void post('Shape', {
        partId: ribbon.part,
        leg: ribbon.leg,
        shape: 'Caption',
        x: x + dx - ribbon.middle[0],
        y: y + dy - ribbon.middle[1],
      });
    },
    click: onClick,
    cancel: () => caption.removeAttribute('transform'),
  });
}
