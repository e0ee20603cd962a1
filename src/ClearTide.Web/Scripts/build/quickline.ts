// The quick line: fixes replace its text, a part that was added empties it, and the arrow keys bring back what was typed before.
import htmx from '../page/htmx';

const kept = 60;
const storage = 'clear-tide quick lines';

const earlier = (): string[] => {
  try {
    return JSON.parse(localStorage.getItem(storage) ?? '[]') as string[];
  } catch {
    return [];
  }
};

function keep(line: string): void {
  const lines = [line, ...earlier().filter(other => other !== line)].slice(0, kept);
  try {
    localStorage.setItem(storage, JSON.stringify(lines));
  } catch {
    // A browser that keeps nothing has no history; typing goes on.
  }
}

export function startQuickLine(root: HTMLElement): void {
  const input = root.querySelector<HTMLInputElement>('#quick-line');
  const preview = root.querySelector<HTMLElement>('#quick-preview');
  const help = root.querySelector<HTMLElement>('#quick-help');
  const helpButton = root.querySelector<HTMLElement>('#quick-help-button');
  if (!input || !preview || !help || !helpButton) return;
  let place = -1,
    draft = '';
  const put = (text: string): void => {
    input.value = text;
    input.focus();
    input.setSelectionRange(text.length, text.length);
    htmx.trigger(input, 'input', {});
  };
  const showHelp = (shown: boolean): void => {
    help.hidden = !shown;
    helpButton.setAttribute('aria-expanded', String(shown));
  };
  helpButton.addEventListener('click', () => showHelp(help.hidden));
  root.addEventListener('click', event => {
    const fix = (event.target as Element).closest<HTMLElement>('[data-quick-fix], [data-quick-sample]');
    if (!fix) return;
    put(fix.dataset.quickFix ?? fix.dataset.quickSample ?? '');
    showHelp(false);
  });
  root.querySelector('.quick')?.addEventListener('keydown', event => {
    if ((event as KeyboardEvent).key !== 'Escape' || help.hidden) return;
    showHelp(false);
    input.focus();
  });
  input.addEventListener('keydown', event => {
    const step = event.key === 'ArrowUp' ? 1 : event.key === 'ArrowDown' ? -1 : 0;
    if (step === 0 || event.defaultPrevented) return;
    const lines = earlier();
    const next = place + step;
    if (next < -1 || next >= lines.length) return;
    event.preventDefault();
    if (place === -1) draft = input.value;
    place = next;
    put(place === -1 ? draft : lines[place]!);
  });
  // A pasted model of many lines fits into one line, parts separated by semicolons.
  input.addEventListener('paste', event => {
    const text = event.clipboardData?.getData('text') ?? '';
    if (!/\n/.test(text.trim())) return;
    event.preventDefault();
    put(
      text
        .trim()
        .split(/\r?\n/)
        .map(line => line.trim())
        .filter(Boolean)
        .join('; '),
    );
  });
  // What would come of a line that has been added meanwhile is no longer of interest.
  root.addEventListener('htmx:beforeSwap', event => {
    const detail = (event as CustomEvent).detail;
    if (detail.target === preview && input.value.trim() === '') detail.shouldSwap = false;
  });
  root.addEventListener('htmx:afterRequest', event => {
    const detail = (event as CustomEvent).detail;
    if (detail.elt?.id !== 'quick-form' || detail.xhr?.status !== 200) return;
    if (input.value.trim()) keep(input.value.trim());
    place = -1;
    input.value = '';
    preview.replaceChildren();
    input.focus();
  });
}
