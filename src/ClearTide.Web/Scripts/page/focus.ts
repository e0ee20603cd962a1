// The focus never falls to the page: where what had it is gone after an action, it goes to what took its place, or to the nearest
// neighbour that is left.
const focusable = ':is(a[href], button, input, select, textarea, summary, [tabindex]):not([disabled], [tabindex="-1"], [type=hidden])';

/** What tells an element again after it was drawn anew, and where it stood. */
interface Trail {
  element: Element;
  id: string;
  part: string;
  kind: string;
  label: string;
  holders: { id: string; place: number }[];
}

const kept = 'clear-tide focus';
let last: Trail | null = null;

const labelOf = (element: Element): string =>
  element.getAttribute('aria-label') ?? element.getAttribute('name') ?? element.textContent?.trim().slice(0, 40) ?? '';

const within = (holder: Element): HTMLElement[] => [...holder.querySelectorAll<HTMLElement>(focusable)];

/** So many things around an element are remembered. */
const depth = 3;

function trailOf(element: Element): Trail {
  const holders: Trail['holders'] = [];
  // The page as a whole says nothing of where: what comes next in it may be anything.
  for (let at = element.parentElement; at && !at.matches('main, body') && holders.length < depth; at = at.parentElement) {
    const id = at.getAttribute('id');
    if (id) holders.push({ id, place: -1 });
  }
  return {
    element,
    id: element.getAttribute('id') ?? '',
    part: (element as HTMLElement).dataset.part ?? '',
    kind: element.classList[0] ?? '',
    label: labelOf(element),
    holders,
  };
}

/** Where among its neighbours it stands is read while it is there, before whatever is pressed next takes effect. */
function remember(): void {
  const element = document.activeElement;
  if (!element || element === document.body) return;
  last = trailOf(element);
  for (const holder of last.holders) {
    holder.place = within(document.getElementById(holder.id) ?? document.body).indexOf(element as HTMLElement);
  }
}

function successor({ id, part, kind, label, holders }: Trail): HTMLElement | null {
  const same = id ? document.getElementById(id) : null;
  if (same?.checkVisibility()) return same;
  const drawn = part && kind ? document.querySelector<HTMLElement>(`.${CSS.escape(kind)}[data-part="${CSS.escape(part)}"]`) : null;
  if (drawn?.checkVisibility()) return drawn;
  for (const { id: holderId, place } of holders) {
    const holder = document.getElementById(holderId);
    if (!holder?.checkVisibility()) continue;
    const all = within(holder),
      at = Math.min(Math.max(place, 0), all.length - 1);
    const seen = (one: HTMLElement): boolean => one.checkVisibility();
    const named =
      all.find(one => label !== '' && labelOf(one) === label && seen(one)) ??
      (holder.matches(focusable) ? holder : (all.slice(at).find(seen) ?? all.slice(0, at).findLast(seen)));
    if (named) return named;
  }
  const all = [...document.querySelectorAll<HTMLElement>(`main ${focusable}`)].filter(one => one.checkVisibility());
  return all.find(one => label !== '' && labelOf(one) === label) ?? all[0] ?? null;
}

function restore(): void {
  if (!last || (document.activeElement && document.activeElement !== document.body)) return;
  // It is still there: somebody has clicked on the empty page.
  if (last.element.isConnected && last.element.checkVisibility()) return;
  successor(last)?.focus({ preventScroll: true });
}

export function keepFocus(): void {
  for (const kind of ['pointerdown', 'keydown', 'focusin']) document.addEventListener(kind, remember, { capture: true });
  const later = (): void => void setTimeout(restore);
  for (const kind of ['click', 'keyup', 'htmx:afterSettle', 'explored']) document.addEventListener(kind, later);
  // A form that loads the page anew leaves its place to the next page.
  addEventListener(
    'submit',
    () => {
      if (last) sessionStorage.setItem(kept, JSON.stringify({ ...last, element: null }));
    },
    { capture: true },
  );
  const before = sessionStorage.getItem(kept);
  sessionStorage.removeItem(kept);
  const free = !document.activeElement || document.activeElement === document.body;
  if (before && free) successor(JSON.parse(before) as Trail)?.focus({ preventScroll: true });
}
