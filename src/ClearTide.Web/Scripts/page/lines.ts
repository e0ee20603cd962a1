// Answers that come line by line, each line a value of its own.

/** The values of an answer, as they come. */
export async function* lines<T>(answer: Response): AsyncGenerator<T> {
  if (!answer.body) return;
  const reader = answer.body.pipeThrough(new TextDecoderStream()).getReader();
  let text = '';
  for (;;) {
    const { done, value } = await reader.read();
    text += value ?? '';
    const whole = text.split('\n');
    text = done ? '' : whole.pop()!;
    for (const line of whole.filter(Boolean)) yield JSON.parse(line) as T;
    if (done) return;
  }
}
