// What is typed while an answer is on its way stays: the answer knows only what its request was sent with. What was refused stays too, so
// that it can be corrected.
import { Idiomorph } from 'idiomorph/htmx';

/** Counts what is typed, as a clock that tells before from after. */
let clock = 0;
const typedAt = new WeakMap<Element, number>();
const sentAt = new WeakMap<XMLHttpRequest, number>();
let answered = 0;

/** The status of an answer that says what is wrong with what was typed. */
const refused = 422;

const requestOf = (event: Event): XMLHttpRequest => (event as CustomEvent<{ xhr: XMLHttpRequest }>).detail.xhr;

document.addEventListener('input', event => typedAt.set(event.target as Element, ++clock), { capture: true });
document.addEventListener('htmx:beforeSend', event => sentAt.set(requestOf(event), clock));
document.addEventListener('htmx:beforeSwap', event => {
  const request = requestOf(event);
  answered = request.status === refused ? -1 : (sentAt.get(request) ?? clock);
});

// What somebody has unfolded stays so: the server knows nothing of it.
Idiomorph.defaults.callbacks.beforeAttributeUpdated = (attribute: string, element: Element): boolean =>
  attribute === 'open' ? !element.hasAttribute('data-unfolds') : attribute !== 'value' || (typedAt.get(element) ?? -Infinity) <= answered;
