// A panel's picture or numbers, taken away.
import { takePicture, type PictureForm } from '../chart/take';

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
export async function take(panel: HTMLElement, how: PictureForm, words: HTMLElement, drawn: (chosen: boolean) => void): Promise<void> {
  drawn(true);
  // The charts are read before the first wait, so that the panel is as it was while the picture is made.
  const taken = takePicture(
    [...panel.querySelectorAll<SVGSVGElement>('.panel-body svg')],
    panel.querySelector('h2')?.textContent ?? 'panel',
    how,
    panel,
    words,
  );
  drawn(false);
  await taken;
}
