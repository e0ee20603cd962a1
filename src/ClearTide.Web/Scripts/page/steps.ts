const known = ['empty', 'ready', 'unfinished'];

// The dots of the steps follow edits: each answer says what they are, and the page changes those that are others.
document.addEventListener('htmx:afterSettle', () => {
  const states = document.getElementById('study-state')?.dataset.steps?.split(' ') ?? [];
  document.querySelectorAll<HTMLElement>('#steps a').forEach((step, k) => {
    const dot = step.querySelector('.dot'),
      words = step.querySelector('.sr-only'),
      state = states[k];
    if (!dot || !words || !state || dot.classList.contains(state)) return;
    dot.classList.remove(...known);
    dot.classList.add(state);
    words.textContent = `, ${state}`;
  });
});

// The step before and the next one by keys, from wherever the focus is.
document.addEventListener('keydown', event => {
  const by = event.key === 'PageDown' ? 1 : event.key === 'PageUp' ? -1 : 0;
  if (by === 0 || !event.altKey || event.ctrlKey || event.metaKey) return;
  const steps = [...document.querySelectorAll<HTMLAnchorElement>('#steps a')],
    next = steps[steps.findIndex(step => step.getAttribute('aria-current') === 'page') + by];
  if (!next) return;
  event.preventDefault();
  next.click();
});
