// Sliders of a fit: values that are tried against the data before a search, or after it.
import { amount } from '../chart/numbers';
import { ask } from './ask';
import { Latest } from './latest';
import { showTrial, type FitTrial } from './fit';

const steps = 1000;

/** The bounds of a slider's value, as they are typed in its row; null where they are none. */
function bounds(slider: HTMLInputElement): { low: number; high: number; log: boolean } | null {
  const row = slider.closest('tr')!,
    read = (name: string): number => Number(row.querySelector<HTMLInputElement>(`[name=${name}]`)!.value.replace(',', '.'));
  const [low, high] = [read('lower'), read('upper')];
  return Number.isFinite(low) && high > low ? { low, high, log: low > 0 && high > 10 * low } : null;
}

function value(slider: HTMLInputElement): number {
  const of = bounds(slider);
  if (!of) return Number(slider.dataset.value);
  const share = Number(slider.value) / steps;
  return Number((of.log ? of.low * (of.high / of.low) ** share : of.low + share * (of.high - of.low)).toPrecision(4));
}

/** Puts a slider where its value in the model is. */
function rest(slider: HTMLInputElement): void {
  const of = bounds(slider),
    own = Number(slider.dataset.value);
  if (!of) return;
  const share = of.log ? Math.log(Math.max(own, 1e-300) / of.low) / Math.log(of.high / of.low) : (own - of.low) / (of.high - of.low);
  slider.value = String(Math.round(steps * Math.min(1, Math.max(0, share))));
  slider.nextElementSibling!.textContent = '';
  delete slider.dataset.moved;
}

export function startTrying(): void {
  const side = document.querySelector<HTMLElement>('[data-page=fit] .side'),
    line = document.querySelector<HTMLElement>('#fit-trial');
  if (!side || !line) return;
  const sliders = (): HTMLInputElement[] => [...side.querySelectorAll<HTMLInputElement>('[data-try]')];
  sliders().forEach(rest);
  const words = line.querySelector('p')!;
  const moved = (): Record<string, number> =>
    Object.fromEntries(
      sliders()
        .filter(slider => slider.dataset.moved)
        .map(slider => [slider.dataset.try!, value(slider)]),
    );
  let set = '';
  const tell = (sentence: string): void => {
    words.textContent = sentence;
    line.hidden = false;
  };
  const trials = new Latest<FitTrial>(trial => {
    tell(trial.words);
    line.querySelector<HTMLInputElement>('[name=set]')!.value = set;
    line.querySelector<HTMLInputElement>('[name=version]')!.value = document.querySelector<HTMLInputElement>('#version')!.value;
    showTrial(trial);
  }, tell);
  const look = (): void => {
    const values = (set = JSON.stringify(moved()));
    trials.ask(() => ask('Try', { set: values }));
  };
  side.addEventListener('input', event => {
    const slider = event.target as HTMLInputElement;
    if (!slider.dataset.try) return;
    slider.dataset.moved = 'yes';
    const words = amount(value(slider));
    slider.nextElementSibling!.textContent = words;
    slider.setAttribute('aria-valuetext', words);
    look();
  });
  line.querySelector('button.plain')!.addEventListener('click', () => {
    trials.drop();
    sliders().forEach(rest);
    line.hidden = true;
    showTrial(null);
    sliders()[0]?.focus();
  });
}
