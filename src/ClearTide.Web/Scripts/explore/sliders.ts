// Sliders: values that are tried without changing the model.
import { amount } from '../chart/numbers';

const steps = 1000;

export class Sliders {
  private moved = new Map<string, number>();

  constructor(
    private root: HTMLElement,
    private changed: () => void,
  ) {
    root.addEventListener('input', event => {
      const input = event.target as HTMLInputElement,
        slider = input.closest<HTMLElement>('.slider');
      if (!slider || input.type !== 'range') return;
      this.take(slider, this.at(slider, Number(input.value)));
    });
    root.addEventListener('change', event => {
      const input = event.target as HTMLInputElement,
        slider = input.closest<HTMLElement>('.slider');
      if (!slider || !input.classList.contains('slider-number')) return;
      const value = Number(input.value.replace(/[\u2009\s]/g, '').replace('−', '-'));
      const wrong = input.value.trim() === '' || !Number.isFinite(value);
      input.setAttribute('aria-invalid', String(wrong));
      const words = slider.querySelector<HTMLElement>('.slider-words');
      if (words)
        words.textContent = wrong
          ? `“${input.value.trim()}” is no number${/\d,\d/.test(input.value) ? '; write decimals with a point' : ''}. ${slider.dataset.address} stays ${amount(this.moved.get(slider.dataset.address!) ?? Number(slider.dataset.value))}.`
          : '';
      if (!wrong) this.take(slider, value);
    });
    root.addEventListener('click', event => {
      if ((event.target as Element).id !== 'reset-sliders') return;
      this.moved.clear();
      this.restore();
      this.changed();
    });
  }

  /** The values that are not those of the model, as the server reads them. */
  text(): string {
    return this.moved.size ? JSON.stringify(Object.fromEntries(this.moved)) : '';
  }

  /** Puts the handles where their values are, after the server has drawn them anew. Values that became the model's are no longer moved. */
  restore(): void {
    const present = new Set<string>();
    for (const slider of this.root.querySelectorAll<HTMLElement>('.slider')) {
      const address = slider.dataset.address!,
        own = Number(slider.dataset.value);
      present.add(address);
      if (this.moved.get(address) === own) this.moved.delete(address);
      this.show(slider, this.moved.get(address) ?? own);
    }
    for (const address of this.moved.keys()) if (!present.has(address)) this.moved.delete(address);
    this.buttons();
  }

  private take(slider: HTMLElement, value: number): void {
    const address = slider.dataset.address!;
    if (value === Number(slider.dataset.value)) this.moved.delete(address);
    else this.moved.set(address, value);
    this.show(slider, value);
    this.buttons();
    this.changed();
  }

  private buttons(): void {
    for (const id of ['reset-sliders', 'keep-values'])
      this.root.querySelector<HTMLButtonElement>(`#${id}`)?.toggleAttribute('disabled', this.moved.size === 0);
    for (const id of ['keep-values', 'keep-run'])
      this.root.querySelector(`#${id}`)?.setAttribute('hx-vals', JSON.stringify({ set: this.text() }));
  }

  private at(slider: HTMLElement, step: number): number {
    const low = Number(slider.dataset.low),
      high = Number(slider.dataset.high),
      share = step / steps;
    const value = slider.dataset.log ? low * (high / low) ** share : low + share * (high - low);
    // Four digits are what a hand can tell; a slider with a step goes by that.
    const least = Number(slider.dataset.step);
    if (least > 0) return Math.min(high, Math.max(low, Number((low + least * Math.round((value - low) / least)).toPrecision(12))));
    return step === 0 ? low : step === steps ? high : Number(value.toPrecision(4));
  }

  private show(slider: HTMLElement, value: number): void {
    const low = Number(slider.dataset.low),
      high = Number(slider.dataset.high);
    const share = slider.dataset.log ? Math.log(Math.max(value, 1e-300) / low) / Math.log(high / low) : (value - low) / (high - low);
    const range = slider.querySelector<HTMLInputElement>('input[type=range]'),
      number = slider.querySelector<HTMLInputElement>('.slider-number');
    if (range) {
      const least = Number(slider.dataset.step);
      // A key moves it by one step.
      range.step = least > 0 && !slider.dataset.log ? String(Math.min(steps, (steps * least) / (high - low))) : '1';
      range.value = String(least > 0 ? steps * Math.min(1, Math.max(0, share)) : Math.round(steps * Math.min(1, Math.max(0, share))));
      range.setAttribute('aria-valuetext', amount(value));
    }
    if (number) number.value = String(Number(value.toPrecision(6)));
    slider.classList.toggle('moved', this.moved.has(slider.dataset.address!));
  }
}
