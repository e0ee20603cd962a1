// A box drawn over the paper chooses the plates in it; with Shift they are added to those chosen before.
import { choose } from '../build/selection';
import { svg } from '../chart/svg';
import { follow } from './gesture';
import { onPaper, overlay, scene } from './scene';
import { pan } from './view';

export function drawBox(event: PointerEvent, onClick: () => void): void {
  const start = onPaper(event);
  const box = svg('rect', { class: 'fill-tide/8 stroke-tide [stroke-dasharray:4_3] pointer-events-none' });
  const area = (at: PointerEvent): [number, number, number, number] => {
    const [x, y] = onPaper(at);
    return [Math.min(start[0], x), Math.min(start[1], y), Math.abs(x - start[0]), Math.abs(y - start[1])];
  };
  follow(event, {
    move: at => {
      const [x, y, width, height] = area(at);
      for (const [name, value] of Object.entries({ x, y, width, height })) box.setAttribute(name, String(value));
      if (!box.isConnected) overlay().append(box);
    },
    done: at => {
      const [x, y, width, height] = area(at);
      box.remove();
      const inside = scene().nodes.filter(
        node => node.x < x + width && node.x + node.width > x && node.y < y + height && node.y + node.height > y,
      );
      choose(
        inside.flatMap(node => (node.members.length ? node.members : [node.part])),
        at.shiftKey,
      );
      // The keys belong to what was chosen: Delete takes it away, arrows move it.
      if (inside[0]) inside[0].element.focus({ preventScroll: true });
      else (document.activeElement as HTMLElement | null)?.blur();
    },
    click: onClick,
    cancel: () => box.remove(),
  });
}

/** The paper is moved with the middle button, or with the space key held. */
export function dragPaper(event: PointerEvent): void {
  let [x, y] = [event.clientX, event.clientY];
  follow(event, {
    move: at => {
      pan(at.clientX - x, at.clientY - y);
      [x, y] = [at.clientX, at.clientY];
    },
    done: () => undefined,
    cancel: () => undefined,
  });
}
