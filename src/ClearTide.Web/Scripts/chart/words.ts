// Words on a chart: sentences over it run on in lines that fit, and long names are shortened, with all of them on hovering.
import type { Frame } from './frame';
import { svg } from './svg';

/** About how wide a sign is, for its height. */
const signWidth = 0.56;

let pen: CanvasRenderingContext2D | null = null;

/** How wide a text is, in the type that names are drawn with where no other weight is given. */
export function widthOf(text: string, size: number, weight = 620): number {
  pen ??= document.createElement('canvas').getContext('2d');
  if (!pen) return signWidth * size * text.length;
  pen.font = `${weight} ${size}px ${getComputedStyle(document.body).fontFamily}`;
  return pen.measureText(text).width;
}

/** As much of a text as fits. */
export function shortened(text: string, room: number, size: number): string {
  // Nothing has to be measured of what is surely short enough.
  if (0.8 * size * text.length <= room || widthOf(text, size) <= room) return text;
  let fits = text.length - 1;
  while (fits > 1 && widthOf(`${text.slice(0, fits)}…`, size) > room) fits--;
  return `${text.slice(0, fits)}…`;
}

/** The lines of a sentence, broken between words. */
export function broken(text: string, room: number, size: number): string[] {
  const fits = Math.max(12, Math.floor(room / (signWidth * size))),
    lines: string[] = [];
  for (const word of text.split(' ')) {
    const last = lines.at(-1);
    if (last !== undefined && last.length + 1 + word.length <= fits) lines[lines.length - 1] = `${last} ${word}`;
    else lines.push(word);
  }
  return lines.map(line => (line.length <= fits ? line : `${line.slice(0, fits - 1)}…`));
}

/** What has to be known to read a chart, over its upper left. */
export function drawWords(at: Frame, text: string): void {
  const size = 12,
    words = svg('text', {
      x: at.left + 8,
      y: at.top + 14,
      class: 'chart-problem fill-coral text-sm stroke-paper stroke-5 [paint-order:stroke] [stroke-linejoin:round]',
    });
  broken(text, at.right - at.left - 16, size).forEach((line, k) =>
    words.append(svg('tspan', { x: at.left + 8, dy: k === 0 ? 0 : size + 3 }, line), ' '),
  );
  words.append(svg('title', {}, text));
  at.root.append(words);
}
