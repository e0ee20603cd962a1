// A field that shows only those items of a list that hold what is typed.
document.addEventListener('input', event => {
  const field = event.target as HTMLInputElement,
    list = field.dataset.filters ? document.getElementById(field.dataset.filters) : null;
  if (!list) return;
  const wanted = field.value.trim().toLowerCase();
  for (const item of list.querySelectorAll<HTMLElement>('[data-search]'))
    item.hidden = wanted !== '' && !item.dataset.search!.toLowerCase().includes(wanted);
});

// It chooses nothing: a form around it is not told.
document.addEventListener('change', event => (event.target as HTMLElement).dataset.filters && event.stopPropagation(), { capture: true });

// Enter sends nothing: what is looked for is no answer of the form around it.
document.addEventListener('keydown', event => {
  if (event.key === 'Enter' && (event.target as HTMLElement).dataset.filters) event.preventDefault();
});
