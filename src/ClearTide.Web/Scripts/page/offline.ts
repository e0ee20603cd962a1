// When the server does not answer: the page says that it is offline, holds the one edit under way, and sends it once when the server is back.
import htmx from './htmx';

interface Held {
  verb: string;
  path: string;
  values: Record<string, string>;
  source: Element;
  target: Element | null;
  swap: string;
}

const often = 1500;
let held: Held | null = null;
let offline = false;
let words = '';
let waiting: (() => void)[] = [];

/** What a script asked for did not come: the page says so. Kept once the server answers again. */
export function isBack(): Promise<void> {
  if (!offline) lost(null, null);
  return new Promise(resolve => waiting.push(resolve));
}

function say(sentence: string): void {
  const notice = document.getElementById('notice');
  if (!notice) return;
  notice.textContent = sentence;
  notice.hidden = sentence === '';
}

function status(text: string): void {
  const saved = document.getElementById('saved');
  if (!saved) return;
  if (!saved.classList.contains('offline')) words = saved.innerHTML;
  saved.classList.add('offline');
  saved.textContent = text;
}

async function wait(): Promise<void> {
  try {
    if (!(await fetch('/health', { cache: 'no-store' })).ok) throw new Error('not yet');
  } catch {
    setTimeout(() => void wait(), often);
    return;
  }
  offline = false;
  const saved = document.getElementById('saved');
  if (saved) {
    saved.classList.remove('offline');
    saved.innerHTML = words;
  }
  say('');
  const asked = waiting;
  waiting = [];
  for (const again of asked) again();
  const edit = held;
  held = null;
  // The edit names the version it was made on: had the server taken it before the connection broke, it would say so instead of making it twice.
  if (edit)
    void htmx.ajax(edit.verb as 'post', edit.path, {
      source: edit.source,
      target: edit.target ?? undefined,
      swap: edit.swap,
      values: edit.values,
    });
}

interface Sent {
  verb: string;
  path: string;
  parameters: Record<string, string>;
  elt: Element;
}

/** @param config what was sent by the page itself; null for what a script asked for */
function lost(config: Sent | null, target: Element | null): void {
  if (config?.verb === 'post' && held === null)
    held = {
      verb: config.verb,
      path: config.path,
      values: { ...config.parameters },
      source: config.elt,
      target,
      swap: target?.id === 'workspace' ? 'morph:outerHTML' : 'innerHTML',
    };
  status(held ? 'offline · one edit waits' : 'offline');
  say(
    held
      ? 'The server does not answer. Your last edit is held here and sent once it is back; what was saved is kept.'
      : 'The server does not answer. What was saved is kept.',
  );
  if (offline) return;
  offline = true;
  setTimeout(() => void wait(), often);
}

document.addEventListener('htmx:sendError', event => {
  const { requestConfig, target } = (event as CustomEvent).detail;
  lost(requestConfig, target);
});

document.addEventListener('htmx:beforeRequest', event => {
  const { requestConfig } = (event as CustomEvent).detail;
  if (!offline || requestConfig.verb !== 'post') return;
  event.preventDefault();
  say(
    held
      ? 'Still offline, and one edit is held already: make this one again when the server is back.'
      : 'Still offline: make this edit again when the server is back.',
  );
});
