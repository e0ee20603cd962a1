// A question on the paper with a few answers: arrow keys and Tab go through them, Escape drops it, and the focus goes back to where it was.
import { scene } from './scene';

export interface Answer {
  words: string;
  act: () => void;
}

export function offer(place: [number, number], words: string, answers: Answer[]): void {
  const pane = document.getElementById('diagram-pane')!,
    held = document.activeElement as HTMLElement | SVGElement | null;
  pane.parentElement!.querySelector('.paper-offer')?.remove();
  const matrix = scene().root.getScreenCTM()!,
    box = pane.getBoundingClientRect();
  const menu = document.createElement('div');
  menu.className = 'paper-offer absolute z-5 w-240 grid gap-6 py-8 px-10 border border-edge rounded-4 bg-sheet text-note';
  menu.setAttribute('role', 'dialog');
  menu.setAttribute('aria-label', words);
  menu.append(Object.assign(document.createElement('p'), { textContent: words }));
  let over = false;
  const end = (): void => {
    over = true;
    held?.focus();
    menu.remove();
  };
  for (const answer of answers) {
    const button = Object.assign(document.createElement('button'), { type: 'button', textContent: answer.words });
    button.addEventListener('click', () => {
      end();
      answer.act();
    });
    menu.append(button);
  }
  menu.addEventListener('keydown', event => {
    const buttons = [...menu.querySelectorAll('button')],
      step = event.key === 'ArrowDown' ? 1 : event.key === 'ArrowUp' ? -1 : 0;
    if (step) buttons[(buttons.indexOf(document.activeElement as HTMLButtonElement) + step + buttons.length) % buttons.length]?.focus();
    else if (event.key === 'Escape') end();
    event.stopPropagation();
    if (step || event.key === 'Escape') event.preventDefault();
  });
  menu.addEventListener('focusout', event => {
    if (!over && !menu.contains(event.relatedTarget as Node | null)) menu.remove();
  });
  menu.style.setProperty('left', `${Math.min(Math.max(6, place[0] * matrix.a + matrix.e - box.left), box.width - 250)}px`);
  menu.style.setProperty('top', `${Math.min(Math.max(6, place[1] * matrix.d + matrix.f - box.top), box.height - 110)}px`);
  pane.parentElement!.append(menu);
  menu.querySelector('button')?.focus();
}
