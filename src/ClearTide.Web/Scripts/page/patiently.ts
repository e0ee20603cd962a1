// Asks for a text once, and again when a server that was away is back.
import { isBack } from './offline';

/** The text of an answer; null where it is not wanted any longer, or there is none. */
export async function patiently(question: () => Promise<Response>, isWanted: () => boolean): Promise<string | null> {
  while (isWanted()) {
    try {
      const answer = await question(),
        text = await answer.text();
      return answer.ok && isWanted() ? text : null;
    } catch {
      await isBack();
    }
  }
  return null;
}
