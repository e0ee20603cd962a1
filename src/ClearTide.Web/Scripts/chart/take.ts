// Charts taken away as one picture: as SVG or PNG, or copied.
import { asPng, save, settle } from '../paper/picture';

export type PictureForm = 'svg' | 'png' | 'copy';

/** @param place an element whose colours and letters the picture has */
function text(charts: SVGSVGElement[], title: string, place: Element): string | null {
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
    look = getComputedStyle(place);
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
  heading.textContent = title;
  whole.prepend(paper, heading);
  for (const [name, value] of Object.entries({ xmlns: space, width, height: y, viewBox: `0 0 ${width} ${y}` }))
    whole.setAttribute(name, String(value));
  return new XMLSerializer().serializeToString(whole);
}

/**
 * @param charts one below the other
 * @param place an element whose colours and letters the picture has
 * @param words tells what came of it
 */
export async function takePicture(
  charts: SVGSVGElement[],
  title: string,
  how: PictureForm,
  place: Element,
  words: HTMLElement,
): Promise<void> {
  const picture = text(charts, title, place);
  if (picture === null) {
    words.textContent = 'There is no picture yet.';
    return;
  }
  const name = title
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
