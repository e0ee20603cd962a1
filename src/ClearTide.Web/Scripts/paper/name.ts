// A field on the paper for a name or a text: Enter keeps it, Escape drops it.
import { scene } from './scene';

export interface Asked {
  place: [number, number];
  words: string;
  value?: string;
  many?: boolean;
  keep: (text: string) => void;
}

export function ask(pane: HTMLElement, { place: [x, y], words, value, many, keep }: Asked): void {
  pane.parentElement!.querySelector('.paper-field')?.remove();
  const matrix = scene().root.getScreenCTM()!,
    box = pane.getBoundingClientRect();
  const field = document.createElement(many ? 'textarea' : 'input');
  field.className =
    'paper-field absolute z-5 w-190 py-4 px-8 border border-tide rounded-3 bg-field text-ink [font:inherit] ' +
    '[textarea&]:h-76 [textarea&]:resize';
  field.placeholder = words;
  field.setAttribute('aria-label', words);
  field.value = value ?? '';
  field.maxLength = many ? 1000 : 60;
  field.style.setProperty('left', `${Math.min(Math.max(6, x * matrix.a + matrix.e - box.left), box.width - 200)}px`);
  field.style.setProperty('top', `${Math.min(Math.max(6, y * matrix.d + matrix.f - box.top), box.height - 40)}px`);
  const held = document.activeElement as HTMLElement | SVGElement | null;
  let over = false;
  const end = (kept: boolean): void => {
    if (over) return;
    over = true;
    const text = field.value.trim();
    field.remove();
    // Where nothing else has taken the focus it goes back to where it was.
    if (held?.isConnected && document.activeElement === document.body) held.focus({ preventScroll: true });
    if (kept && (text !== '' || value) && text !== (value ?? '')) keep(text);
  };
  field.addEventListener('keydown', event => {
    if ((event as KeyboardEvent).key === 'Enter' && !((event as KeyboardEvent).shiftKey && many)) {
      event.preventDefault();
      end(true);
    } else if ((event as KeyboardEvent).key === 'Escape') {
      event.preventDefault();
      end(false);
    }
    event.stopPropagation();
  });
  field.addEventListener('blur', () => end(true));
  pane.parentElement!.append(field);
  field.focus();
  field.select();
}
