// Posts an edit to a handler of the page; the answer redraws what has changed.
import htmx from '../page/htmx';

export function post(handler: string, values: Record<string, string | number | boolean>): Promise<void> {
  const texts = Object.fromEntries(Object.entries(values).map(([name, value]) => [name, String(value)]));
  return htmx.ajax('post', `?handler=${handler}`, {
    source: '#diagram-pane',
    target: '#workspace',
    swap: 'morph:outerHTML',
    values: texts,
  });
}
