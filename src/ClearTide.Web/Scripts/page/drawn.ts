// What scripts have drawn outlives an answer: the server sends the place for it, marked, with nothing in it.
import { Idiomorph } from 'idiomorph/htmx';

Idiomorph.defaults.callbacks.beforeNodeMorphed = (old: Node, next: Node): boolean => {
  if (!(old instanceof Element) || !(next instanceof Element) || !old.hasAttribute('data-drawn')) return true;
  for (const { name, value } of next.attributes) if (old.getAttribute(name) !== value) old.setAttribute(name, value);
  return false;
};
