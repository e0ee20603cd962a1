// Work of many runs on the server, followed as it goes on and stopped.
import { lines } from '../page/lines';

/** Reads an answer line by line: how far the work is, then what came of it. */
export async function follow<T>(address: string, signal: AbortSignal, progress: (percent: number) => void): Promise<T | null> {
  const answer = await fetch(address, { signal });
  if (!answer.ok) throw new Error(String(answer.status));
  let last: T | null = null;
  for await (const said of lines<T & { percent?: number }>(answer)) {
    if (said.percent !== undefined) progress(said.percent);
    else last = said;
  }
  return last;
}
