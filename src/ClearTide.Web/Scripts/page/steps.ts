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
