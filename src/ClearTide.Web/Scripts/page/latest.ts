// Asks the server for what belongs to the latest state of a page. An answer that another question has overtaken is dropped. Where no answer
// comes it is said, and the question is asked again: at once when a server that was away is back, after a while when it failed.
import { lines } from './lines';
import { isBack } from './offline';

/** How long until what failed is asked for again, in milliseconds, and how often. */
const later = 2000,
  most = 5;

export class Latest<T> {
  private turn = 0;

  /**
   * @param show called with each value of an answer
   * @param told called with a sentence where there is no answer
   */
  constructor(
    private show: (value: T) => void,
    private told: (sentence: string) => void,
  ) {}

  /** Drops what was asked for before, and asks. */
  ask(question: () => Promise<Response>): void {
    void this.try(question, ++this.turn, 1);
  }

  /** Whatever was asked for is not wanted any longer. */
  drop(): void {
    this.turn++;
  }

  private async try(question: () => Promise<Response>, mine: number, times: number): Promise<void> {
    let answer: Response, values: AsyncGenerator<T>;
    try {
      answer = await question();
      values = lines<T>(answer);
    } catch {
      await isBack();
      return this.again(question, mine, times);
    }
    if (mine !== this.turn) return;
    if (!answer.ok) {
      this.told(answer.status < 500 ? 'This is not there any more. Load the page again.' : 'This could not be worked out just now.');
      if (answer.status < 500 || times === most) return;
      await new Promise(resolve => setTimeout(resolve, later));
      return this.again(question, mine, times + 1);
    }
    for (;;) {
      let next: IteratorResult<T>;
      try {
        next = await values.next();
      } catch {
        // It broke off on the way.
        await isBack();
        return this.again(question, mine, times);
      }
      if (next.done || mine !== this.turn) return;
      this.show(next.value);
    }
  }

  private async again(question: () => Promise<Response>, mine: number, times: number): Promise<void> {
    if (mine === this.turn) await this.try(question, mine, times);
  }
}
