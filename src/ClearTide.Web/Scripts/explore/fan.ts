// What chance makes of the curves of panels: asked for after each run while its switch is on.
import type { Fan } from '../build/chance';
import { Latest } from '../page/latest';

const kept = 'clear-tide chance';

const isOn = (): boolean => sessionStorage.getItem(kept) === 'true';

export class ChanceSwitch {
  /** What is drawn behind curves; null while it is off, or not there yet. */
  fan: Fan | null = null;
  private asked = '';
  private fans = new Latest<Fan>(
    fan => this.show(fan),
    words => this.say(words),
  );

  /**
   * @param redraw called when there are other bands
   * @param stamp names the model and the values of the sliders that bands are of
   * @param address where they are asked for
   */
  constructor(
    root: HTMLElement,
    private redraw: () => void,
    private stamp: () => string,
    private address: () => string,
  ) {
    root.addEventListener('click', event => {
      if (!(event.target as Element).closest('[data-fan]')) return;
      sessionStorage.setItem(kept, String(!isOn()));
      this.refresh();
    });
  }

  /** Brings the switch, its words and the bands up to date: an answer of the server knows nothing of them. */
  refresh(): void {
    for (const button of document.querySelectorAll('[data-fan]')) button.setAttribute('aria-pressed', String(isOn()));
    if (!isOn()) {
      this.asked = '';
      this.fans.drop();
      this.show(null);
      return;
    }
    const wanted = this.stamp();
    if (wanted === this.asked) {
      this.say();
      return;
    }
    this.asked = wanted;
    // The bands of the run before would lie about this one.
    this.show(null);
    const address = this.address();
    this.fans.ask(() => fetch(address));
  }

  private show(fan: Fan | null): void {
    const same = this.fan === fan;
    this.fan = fan;
    this.say();
    if (!same) this.redraw();
  }

  private say(sentence = this.fan?.words ?? ''): void {
    const words = document.getElementById('fan-words');
    if (words) words.textContent = sentence;
  }
}
