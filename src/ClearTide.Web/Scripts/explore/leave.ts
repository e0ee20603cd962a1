// A point of data that is clicked is left out of fits, or taken back.
import htmx from '../page/htmx';

export const leave = (series: string, row: number): void =>
  void htmx.ajax('post', '?handler=Point', {
    source: '#explore',
    target: '#explore',
    swap: 'morph:outerHTML',
    values: { observation: series, row: String(row) },
  });
