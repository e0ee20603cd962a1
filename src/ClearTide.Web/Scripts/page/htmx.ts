// htmx as a global, where its extensions look for it.
import htmx from 'htmx.org';

(globalThis as { htmx?: unknown }).htmx = htmx;
export default htmx;
