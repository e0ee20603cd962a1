// Words on a chart: sentences over it run on in lines that fit, and long names are shortened, with all of them on hovering.
import type { Frame } from './frame';
import { svg } from './svg';

/** About how wide a sign is, for its height. */
const signWidth = 0.56;

/** As much of a text as fits. */
export function shortened(text: string, room: number, size: number): string {
  const fits = Math.max(2, Math.floor(room / (signWidth * size)));
  return text.length <= fits ? text : `${text.slice(0, fits - 1)}…`;
}

/** The lines of a sentence, broken between words. */
export function broken(text: string, room: number, size: number): string[] {
  const fits = Math.max(12, Math.floor(room / (signWidth * size))), lines: string[] = [];
  for (const word of text.split(' ')) {
    const last = lines.at(-1);
    if (last !== undefined && last.length + 1 + word.length <= fits) lines[lines.length - 1] = `${last} ${word}`;
    else lines.push(word);
  }
  return lines.map(line => (line.length <= fits ? line : `${line.slice(0, fits - 1)}…`));
}

/** What has to be known to read a chart, over its upper left. */
export function drawWords(at: Frame, text: string): void {
  const size = 12, words = svg('text', { x: at.left + 8, y: at.top + 14, class: 'chart-problem' });
  broken(text, at.right - at.left - 16, size).forEach((line, k) => words.append(svg('tspan', { x: at.left + 8, dy: k === 0 ? 0 : size + 3 }, line), ' '));
  words.append(svg('title', {}, text));
  at.root.append(words);
}
