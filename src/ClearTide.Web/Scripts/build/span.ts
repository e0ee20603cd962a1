// The fields of the span say what the study has, also after undo and after an entry that was refused; what is being typed is left alone.
import type { Run } from './run';

export function showSpan(run: Run): void {
  for (const name of ['start', 'end'] as const) {
    const field = document.querySelector<HTMLInputElement>(`.span-form [name=${name}]`);
    if (field && field !== document.activeElement) field.value = String(run[name]);
  }
}
