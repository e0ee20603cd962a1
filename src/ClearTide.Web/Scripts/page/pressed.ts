// What is pressed stays until it is let go: an answer to a look at work under way that would take a button from under the finger is left
// out, since a press and a release on two elements are no click. The next look comes soon.
let held: Element | null = null;

const hold = (event: Event): void => {
  held = event.target as Element;
};
const release = (): void => {
  // What the release sets off comes first.
  setTimeout(() => (held = null));
};

document.addEventListener('pointerdown', hold, true);
document.addEventListener('pointerup', release, true);
document.addEventListener('pointercancel', release, true);
document.addEventListener('keydown', event => event.key === ' ' && hold(event), true);
document.addEventListener('keyup', release, true);

document.addEventListener('htmx:beforeSwap', event => {
  const { detail } = event as CustomEvent<{ shouldSwap: boolean; target: Element; requestConfig: { elt: Element } }>;
  if (held && detail.requestConfig.elt.getAttribute('hx-trigger')?.startsWith('every') && detail.target.contains(held))
    detail.shouldSwap = false;
});
