// Shows all values at the time under the pointer.
import type { Frame } from './frame';
import { svg } from './svg';

export interface Reading {
  name: string;
  value: string;
  className: string;
}

export function attachHover(
  frame: Frame,
  timeName: (time: number) => string,
  read: (time: number) => Reading[],
  seen?: (time: number | null) => void,
): void {
  const layer = svg('g', {
    class:
      'hover pointer-events-none [&_line]:stroke-edge [&_line]:[stroke-dasharray:2_3] ' +
      '[&_rect]:fill-sheet [&_rect]:stroke-edge [&_text]:text-xs',
    visibility: 'hidden',
  });
  frame.root.append(layer);
  frame.root.addEventListener('pointermove', event => {
    const box = frame.root.getBoundingClientRect();
    const at = event.clientX - box.left;
    if (at < frame.left || at > frame.right) {
      layer.setAttribute('visibility', 'hidden');
      seen?.(null);
      return;
    }
    const time = frame.x.invert(at);
    seen?.(time);
    // As many as there is room for, and word of the others.
    const all = read(time),
      room = Math.max(3, Math.floor((frame.bottom - frame.top - 18) / 15));
    const readings =
      all.length <= room ? all : [...all.slice(0, room - 1), { name: `${all.length - room + 1} more`, value: '', className: '' }];
    const height = 18 + 15 * readings.length;
    const width = 24 + 7 * Math.max(10, ...readings.map(reading => reading.name.length + reading.value.length));
    const x = at + 12 + width > frame.right ? at - 12 - width : at + 12;
    layer.replaceChildren(
      svg('line', { x1: at, x2: at, y1: frame.top, y2: frame.bottom }),
      svg('rect', { x, y: frame.top, width, height, rx: 3 }),
      svg('text', { x: x + 9, y: frame.top + 14, class: 'fill-mute' }, timeName(time)),
      ...readings.flatMap((reading, k) => [
        svg('text', { x: x + 9, y: frame.top + 29 + 15 * k, class: reading.className || 'fill-ink' }, reading.name),
        svg('text', { x: x + width - 9, y: frame.top + 29 + 15 * k, 'text-anchor': 'end', class: 'fill-ink' }, reading.value),
      ]),
    );
    layer.setAttribute('visibility', 'visible');
  });
  frame.root.addEventListener('pointerleave', () => {
    layer.setAttribute('visibility', 'hidden');
    seen?.(null);
  });
}
