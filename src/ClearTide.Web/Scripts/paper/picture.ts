// The diagram as a picture: an SVG with its colours and fonts inside, or a PNG drawn from it, at a chosen width and type size.
import { scene } from './scene';

const drawn = [
  'fill',
  'stroke',
  'stroke-width',
  'stroke-dasharray',
  'stroke-opacity',
  'opacity',
  'font-family',
  'font-size',
  'font-style',
  'font-weight',
  'text-anchor',
  'display',
  'visibility',
];
const faces = [
  ['STIX Two Text', 'italic', '400', 'stix-two-text-latin-400-italic'],
  ['STIX Two Text', 'italic', '600', 'stix-two-text-latin-600-italic'],
  ['STIX Two Text Greek', 'italic', '400', 'stix-two-text-greek-400-italic'],
  ['STIX Two Text Greek', 'italic', '600', 'stix-two-text-greek-600-italic'],
  ['Atkinson Hyperlegible Next Variable', 'normal', '200 800', 'atkinson-hyperlegible-next-latin-wght-normal'],
] as const;

async function fontRule([family, style, weight, file]: (typeof faces)[number]): Promise<string> {
  const bytes = new Uint8Array(await (await fetch(`/dist/fonts/${file}.woff2`)).arrayBuffer());
  let text = '';
  for (const byte of bytes) text += String.fromCharCode(byte);
  return `@font-face{font-family:"${family}";font-style:${style};font-weight:${weight};src:url(data:font/woff2;base64,${btoa(text)})}`;
}

/** The computed look of an element and all in it, written into its copy, so that the picture needs no style sheet. */
export function settle(from: Element, to: Element, type: number): void {
  const look = getComputedStyle(from);
  for (const name of drawn) {
    const value = look.getPropertyValue(name);
    if (value) to.setAttribute(name, name === 'font-size' ? `${parseFloat(value) * type}px` : value);
  }
  [...from.children].forEach((child, k) => settle(child, to.children[k]!, type));
}

/** The whole paper, or the part of it that is in view. */
export async function picture(width: number, type: number, wholePaper: boolean): Promise<string> {
  const { root } = scene();
  const copy = root.cloneNode(true) as SVGSVGElement;
  const away = ['far', 'farther'].filter(name => root.classList.contains(name));
  root.classList.remove(...away);
  settle(root, copy, type);
  root.classList.add(...away);
  for (const gone of copy.querySelectorAll('.reach, .rim, #overlay, title')) gone.remove();
  for (const element of [copy, ...copy.querySelectorAll('*')])
    for (const { name } of [...element.attributes]) if (/^(class|data-|tabindex|role|aria-)/.test(name)) element.removeAttribute(name);
  const [x = 0, y = 0, w = 1, h = 1] = (wholePaper ? root.dataset.paper! : root.getAttribute('viewBox')!).split(' ').map(Number);
  copy.setAttribute('xmlns', 'http://www.w3.org/2000/svg');
  copy.setAttribute('viewBox', `${x} ${y} ${w} ${h}`);
  copy.setAttribute('width', String(width));
  copy.setAttribute('height', String(Math.round((width * h) / w)));
  const style = document.createElementNS('http://www.w3.org/2000/svg', 'style');
  style.textContent = (await Promise.all(faces.map(fontRule))).join('');
  const paper = document.createElementNS('http://www.w3.org/2000/svg', 'rect');
  for (const [name, value] of Object.entries({
    x,
    y,
    width: w,
    height: h,
    fill: getComputedStyle(document.getElementById('diagram-pane')!).backgroundColor,
  }))
    paper.setAttribute(name, String(value));
  copy.prepend(style, paper);
  return new XMLSerializer().serializeToString(copy);
}

export async function asPng(text: string): Promise<Blob> {
  const image = new Image();
  image.src = `data:image/svg+xml;charset=utf-8,${encodeURIComponent(text)}`;
  await image.decode();
  const canvas = document.createElement('canvas');
  canvas.width = image.width;
  canvas.height = image.height;
  canvas.getContext('2d')!.drawImage(image, 0, 0);
  return new Promise((resolve, reject) =>
    canvas.toBlob(blob => (blob ? resolve(blob) : reject(new Error('The browser could not draw the picture.'))), 'image/png'),
  );
}

export function save(blob: Blob, name: string): void {
  const link = document.createElement('a');
  link.href = URL.createObjectURL(blob);
  link.download = name;
  link.click();
  setTimeout(() => URL.revokeObjectURL(link.href), 10_000);
}

export function startPictures(root: HTMLElement): void {
  const form = root.querySelector<HTMLFormElement>('#picture-form');
  form?.addEventListener('submit', event => event.preventDefault());
  form?.addEventListener('click', async event => {
    const button = (event.target as Element).closest<HTMLElement>('[data-picture]');
    if (!button) return;
    const field = (name: string): string => (form.elements.namedItem(name) as HTMLInputElement).value;
    const width = Math.min(8000, Math.max(200, Number(field('width')) || 1600)),
      type = Math.min(3, Math.max(0.5, (Number(field('type')) || 100) / 100));
    const words = form.querySelector<HTMLElement>('.picture-words')!;
    try {
      const text = await picture(width, type, field('area') === 'paper');
      const name = (document.querySelector('.study-title')?.textContent ?? 'diagram')
        .trim()
        .toLowerCase()
        .replace(/[^\p{L}\p{N}]+/gu, '-');
      const [what, kind] = button.dataset.picture!.split(' ');
      if (what === 'save') save(kind === 'svg' ? new Blob([text], { type: 'image/svg+xml' }) : await asPng(text), `${name}.${kind}`);
      else if (kind === 'svg') await navigator.clipboard.writeText(text);
      else await navigator.clipboard.write([new ClipboardItem({ 'image/png': await asPng(text) })]);
      words.textContent = what === 'save' ? 'saved' : 'copied';
    } catch {
      words.textContent = 'The browser refused. Save it instead of copying, or choose a smaller width.';
    }
  });
}
