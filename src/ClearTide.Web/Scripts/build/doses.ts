// Marks where the model gives doses, at the foot of its curves: an arrow for one at once, a bar for one that goes in for a while.
import type { Frame } from '../chart/frame';
import { amount } from '../chart/numbers';
import { timeName } from '../chart/calendar';
import { svg } from '../chart/svg';
import type { Run } from './run';

const size = 6;

export function drawDoses(at: Frame, { doses, unit }: Run): void {
  // Below the axis, where no curve goes.
  const top = at.bottom + 1;
  for (const [time, given, over, colour, into] of doses) {
    const x = at.x(time),
      end = at.x(time + over);
    if (end < at.left || x > at.right) continue;
    const mark = svg('path', {
      d: over > 0 ? `M${Math.max(x, at.left)} ${top}H${Math.min(end, at.right)}v4H${Math.max(x, at.left)}Z` : `M${x} ${top}l-4 ${size}h8Z`,
      class: `dose fill-(--hue) hue-c${colour}`,
    });
    mark.append(svg('title', {}, `${given === null ? 'a dose' : amount(given)} into ${into} at ${timeName(time, unit)}`));
    at.root.append(mark);
  }
}
