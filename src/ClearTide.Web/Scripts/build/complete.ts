// Completion: names, functions and units while typing, with what they are beside them.
type Word = [text: string, kind: string, hint: string];

const most = 8;
let list: HTMLUListElement | null = null;
let field: HTMLInputElement | null = null;
let chosen = -1;

const words = (): Word[] => JSON.parse(document.getElementById('vocabulary')?.textContent || '[]') as Word[];

/** What is being typed at the caret: a name, and whether a number stands before it, so that a unit is meant. */
function typed(input: HTMLInputElement): { text: string; unit: boolean } {
  const before = input.value.slice(0, input.selectionStart ?? 0);
  const match = /([\d.)]\s?|\bper\s+)?([\p{L}_][\p{L}\p{N}_]*(?:\.[\p{L}\p{N}_]*)*)$/u.exec(before);
  return { text: match?.[2] ?? '', unit: match?.[1] !== undefined && !/\)$/.test(match[1]) };
}

function close(): void {
  list?.remove();
  list = null;
  chosen = -1;
  field?.removeAttribute('aria-activedescendant');
  field?.removeAttribute('aria-controls');
}

function choose(index: number): void {
  if (!list || !field) return;
  const items = [...list.children];
  chosen = (index + items.length) % items.length;
  for (const [k, item] of items.entries()) item.setAttribute('aria-selected', String(k === chosen));
  field.setAttribute('aria-activedescendant', items[chosen]!.id);
}

function accept(item: Element): void {
  if (!field) return;
  const input = field,
    word = (item as HTMLElement).dataset.word ?? '';
  const end = input.selectionStart ?? 0;
  input.setRangeText(word, end - typed(input).text.length, end, 'end');
  close();
  input.dispatchEvent(new Event('input', { bubbles: true }));
}

function suggest(input: HTMLInputElement): void {
  close();
  const { text, unit } = typed(input);
  if (text === '') return;
  const lower = text.toLowerCase();
  const found = words()
    .filter(([word, kind]) => (kind === 'unit') === unit && word !== text && word.toLowerCase().startsWith(lower))
    .slice(0, most);
  if (found.length === 0) return;
  field = input;
  list = document.createElement('ul');
  list.className =
    'completions fixed z-5 w-320 p-2 bg-sheet border border-edge rounded-4 [&_li]:flex [&_li]:gap-10 [&_li]:justify-between ' +
    '[&_li]:py-2 [&_li]:px-8 [&_li]:cursor-pointer [&_li]:rounded-3 [&_li_span]:text-mute [&_li_span]:text-xs [&_li_span]:truncate ' +
    '[&_li[aria-selected=true]]:bg-tide-soft [&_li:hover]:bg-tide-soft';
  list.id = 'completions';
  list.setAttribute('role', 'listbox');
  list.setAttribute('aria-label', 'Completions');
  for (const [k, [word, kind, hint]] of found.entries()) {
    const item = document.createElement('li');
    item.id = `completion-${k}`;
    item.setAttribute('role', 'option');
    item.dataset.word = word;
    item.className = kind;
    const name = document.createElement('code'),
      said = document.createElement('span');
    name.textContent = word;
    said.textContent = hint;
    item.append(name, said);
    list.append(item);
  }
  const box = input.getBoundingClientRect();
  document.body.append(list);
  list.style.left = `${Math.min(box.left, innerWidth - 330)}px`;
  // Below the field, or above it where there is no room.
  if (box.bottom + list.offsetHeight < innerHeight) list.style.top = `${box.bottom + 2}px`;
  else list.style.top = `${box.top - list.offsetHeight - 2}px`;
  input.setAttribute('aria-controls', 'completions');
}

const isFormula = (target: EventTarget | null): target is HTMLInputElement =>
  target instanceof HTMLInputElement && target.classList.contains('formula');

export function startCompleting(root: HTMLElement): void {
  root.addEventListener('input', event => {
    if (isFormula(event.target)) suggest(event.target);
  });
  root.addEventListener('focusout', () =>
    setTimeout(() => {
      if (document.activeElement !== field) close();
    }),
  );
  root.addEventListener(
    'keydown',
    event => {
      if (!list || event.target !== field) return;
      const step = event.key === 'ArrowDown' ? 1 : event.key === 'ArrowUp' ? -1 : 0;
      if (step !== 0) choose(chosen < 0 && step < 0 ? -1 : chosen + step);
      else if (event.key === 'Tab' && !event.shiftKey) accept(list.children[Math.max(chosen, 0)]!);
      else if (event.key === 'Enter' && chosen >= 0) accept(list.children[chosen]!);
      else if (event.key === 'Escape') close();
      else {
        if (event.key === 'Enter') close();
        return;
      }
      event.preventDefault();
      event.stopPropagation();
    },
    { capture: true },
  );
  document.addEventListener('pointerdown', event => {
    const item = (event.target as Element).closest('#completions li');
    if (!item) return;
    event.preventDefault();
    accept(item);
  });
}
