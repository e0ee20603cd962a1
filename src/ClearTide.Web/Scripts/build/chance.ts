// What chance makes of the curves: asked for after each run while its switch is on.
import { ask } from '../page/ask';
import { Latest } from '../page/latest';
import type { Curves } from './curves';

/** Bands and a few runs of one compartment, at the times of the fan. */
export interface FanBands {
  p5: number[];
  p25: number[];
  p75: number[];
  p95: number[];
  runs: number[][];
}

export interface Fan {
  times: number[];
  /** By the id of each compartment. */
  bands: Record<string, FanBands>;
  words: string;
}

const kept = 'clear-tide chance';

/** @returns what is to be called when there is another run. */
export function startChance(button: HTMLElement, curves: Curves): () => void {
  const said = document.getElementById('chance-words')!;
  const show = (fan: Fan | null): void => {
    said.textContent = fan?.words ?? '';
    said.hidden = !fan;
    curves.showFan(fan);
  };
  const isOn = (): boolean => button.getAttribute('aria-pressed') === 'true';
  const fans = new Latest<Fan>(show, words => {
    said.textContent = words;
    said.hidden = false;
  });
  const refresh = (): void => {
    if (isOn()) return fans.ask(() => ask('Chance', {}));
    fans.drop();
    show(null);
  };
  const turn = (on: boolean): void => {
    button.setAttribute('aria-pressed', String(on));
    sessionStorage.setItem(kept, String(on));
    refresh();
  };
  button.addEventListener('click', () => turn(!isOn()));
  if (sessionStorage.getItem(kept) === 'true') button.setAttribute('aria-pressed', 'true');
  return () => {
    // The bands of the run before would lie about this one; the words stay, so that the curves do not jump.
    if (isOn()) curves.showFan(null);
    refresh();
  };
}
