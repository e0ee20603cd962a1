// A panel's picture, taken away: as SVG or PNG, or copied.
import { asPng, save, settle } from '../paper/picture';

function text(panel: HTMLElement): string | null {
  const charts = [...panel.querySelectorAll<SVGSVGElement>('.panel-body svg')];
  if (charts.length === 0) return null;
  const space = 'http://www.w3.org/2000/svg',
    whole = document.createElementNS(space, 'svg');
  const width = Math.max(...charts.map(chart => chart.width.baseVal.value)),
    top = 26;
  let y = top;
  for (const chart of charts) {
    const copy = chart.cloneNode(true) as SVGSVGElement;
    settle(chart, copy, 1);
    for (const gone of copy.querySelectorAll('.hover, .zoom-veil')) gone.remove();
    for (const element of copy.querySelectorAll('*'))
      for (const name of ['class', 'tabindex', 'role', 'aria-label']) element.removeAttribute(name);
    copy.setAttribute('y', String(y));
    y += chart.height.baseVal.value;
    whole.append(copy);
  }
  const paper = document.createElementNS(space, 'rect'),
    heading = document.createElementNS(space, 'text'),
    look = getComputedStyle(panel);
  for (const [name, value] of Object.entries({
    width,
    height: y,
    fill: look.backgroundColor === 'rgba(0, 0, 0, 0)' ? getComputedStyle(document.body).backgroundColor : look.backgroundColor,
  }))
    paper.setAttribute(name, String(value));
  for (const [name, value] of Object.entries({
    x: 8,
    y: 18,
    fill: look.color,
    'font-family': look.fontFamily,
    'font-size': '14px',
    'font-weight': '600',
  }))
    heading.setAttribute(name, value.toString());
  heading.textContent = panel.querySelector('h2')?.textContent ?? '';
  whole.prepend(paper, heading);
  for (const [name, value] of Object.entries({ xmlns: space, width, height: y, viewBox: `0 0 ${width} ${y}` }))
    whole.setAttribute(name, String(value));
  return new XMLSerializer().serializeToString(whole);
}

const plain = (text: string): string =>
  text
    .replace('−', '-')
    .replace(/\u2009/g, '')
    .replace('—', '');

/** Copies a table as a spreadsheet takes it: all digits where the server has them, else what is shown. */
export async function copyNumbers(panel: HTMLElement, words: HTMLElement, address: string | null): Promise<void> {
  const shown = [...panel.querySelectorAll<HTMLTableRowElement>('table.numbers tr')]
    .map(row => [...row.cells].map(cell => plain(cell.textContent ?? '')).join('\t'))
    .join('\n');
  try {
    const text = address === null ? shown : await (await fetch(address)).text();
    await navigator.clipboard.writeText(text);
    words.textContent = 'copied: paste it into a spreadsheet';
  } catch {
    words.textContent = 'The browser refused. Take the CSV instead of copying.';
  }
}

/** @param drawn draws the panel at the size of the picture, and as it was. */
export async function take(panel: HTMLElement, how: string, words: HTMLElement, drawn: (chosen: boolean) => void): Promise<void> {
  drawn(true);
  const picture = text(panel);
  drawn(false);
  if (picture === null) {
    words.textContent = 'There is no picture yet.';
    return;
  }
  const name = (panel.querySelector('h2')?.textContent ?? 'panel')
    .trim()
    .toLowerCase()
    .replace(/[^\p{L}\p{N}]+/gu, '-');
  try {
    if (how === 'svg') save(new Blob([picture], { type: 'image/svg+xml' }), `${name}.svg`);
    else if (how === 'png') save(await asPng(picture), `${name}.png`);
    else await navigator.clipboard.write([new ClipboardItem({ 'image/png': await asPng(picture) })]);
    if (how === 'copy') words.textContent = 'copied';
  } catch {
    words.textContent = 'The browser refused. Save it instead of copying.';
  }
}
