// A value over two others, as a map of coloured fields with its scale.
import { colourOf, shades } from './colours';
import { amount } from './numbers';
import { svg } from './svg';

export interface MapOf {
  first: number[];
  second: number[];
  /** Row by row of the second, each along the first. */
  values: (number | null)[];
  names: [string, string];
  title: string;
  width: number;
  height: number;
  /** Fields that are left pale, and one that is framed; none where nothing is said. */
  pale?: (place: number) => boolean;
  framed?: number | null;
}

export function map(of: MapOf): SVGSVGElement {
  const { first, second, values, names, title, width, height } = of,
    known = values.filter((value): value is number => value !== null);
  const low = Math.min(...known),
    high = Math.max(...known),
    left = 70,
    top = 22,
    right = width - 96,
    bottom = height - 34;
  const wide = (right - left) / first.length,
    tall = (bottom - top) / second.length;
  const root = svg('svg', {
    width,
    height,
    viewBox: `0 0 ${width} ${height}`,
    role: 'img',
    'aria-label': `${title} over ${names[0]} and ${names[1]}`,
    class: 'chart-svg block max-w-full select-none map',
  });
  const field = (k: number, className: string, value: number | null): SVGElement =>
    svg(
      'rect',
      {
        x: left + (k % first.length) * wide,
        y: bottom - (Math.floor(k / first.length) + 1) * tall,
        // Fields that can be seen through do not lie over each other.
        width: wide + (of.pale ? 0 : 0.4),
        height: tall + (of.pale ? 0 : 0.4),
        class: className,
      },
      svg(
        'title',
        {},
        `${names[0]} ${amount(first[k % first.length])}, ${names[1]} ${amount(second[Math.floor(k / first.length)])}: ${amount(value)}`,
      ),
    );
  values.forEach((value, k) => {
    const colour = value === null ? 'failed' : colourOf(high > low ? ((value - low) / (high - low)) * 99 : 0, 100);
    root.append(field(k, of.pale?.(k) ? `${colour} opacity-25` : colour, value));
  });
  if (of.framed != null) root.append(field(of.framed, 'fill-none! stroke-ink stroke-2', values[of.framed] ?? null));
  const label = (x: number, y: number, text: string, anchor: string): void => {
    root.append(svg('text', { x, y, 'text-anchor': anchor }, text));
  };
  for (const k of new Set([0, Math.floor((first.length - 1) / 2), first.length - 1]))
    label(left + (k + 0.5) * wide, bottom + 15, amount(first[k]), 'middle');
  for (const k of new Set([0, Math.floor((second.length - 1) / 2), second.length - 1]))
    label(left - 6, bottom - (k + 0.5) * tall + 4, amount(second[k]), 'end');
  label(right, bottom + 30, names[0], 'end');
  // A long name would leave the picture to the left.
  label(left - 6, top - 8, names[1], names[1].length > 12 ? 'start' : 'end');
  label(right, top - 8, title, 'end');
  for (let k = 0; k < shades; k++)
    root.append(
      svg('rect', {
        x: right + 12,
        y: bottom - ((k + 1) * (bottom - top)) / shades,
        width: 12,
        height: (bottom - top) / shades + 0.4,
        class: `hue-w${k}`,
      }),
    );
  label(right + 28, bottom, amount(low), 'start');
  label(right + 28, top + 10, amount(high), 'start');
  return root;
}
