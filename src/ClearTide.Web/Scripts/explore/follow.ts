// Work of many runs on the server, followed as it goes on and stopped.

/** Reads an answer line by line: how far the work is, then what came of it. */
export async function follow<T>(address: string, signal: AbortSignal, progress: (percent: number) => void): Promise<T | null> {
  const answer = await fetch(address, { signal });
  if (!answer.ok || !answer.body) throw new Error(String(answer.status));
  const reader = answer.body.pipeThrough(new TextDecoderStream()).getReader();
  let text = '',
    last: T | null = null;
  for (;;) {
    const { done, value } = await reader.read();
    text += value ?? '';
    const lines = text.split('\n');
    text = lines.pop() ?? '';
    for (const line of lines.filter(Boolean)) {
      const said = JSON.parse(line) as T & { percent?: number };
      if (said.percent !== undefined) progress(said.percent);
      else last = said;
    }
    if (done) return last;
  }
}
