// Numbers as charts print them: thin spaces between thousands, whole axis numbers, never a bare power of ten.
const groups = (digits: string): string => digits.replace(/\B(?=(\d{3})+(?!\d))/g, '\u2009');

/** A number of which only its side and how near to zero it is are said. */
const tiny = (value: number, bound: string): string => (value < 0 ? `>\u2009−${bound}` : `<\u2009${bound}`);

/** What comes once in a unit of time or a step: “a day”, “an hour”. */
export const each = (unit: string): string => `${unit === 'hour' ? 'an' : 'a'} ${unit}`;

export function amount(value: number | null | undefined): string {
  if (value == null || !Number.isFinite(value)) return '—';
  const size = Math.abs(value);
  const sign = value < 0 ? '−' : '';
  if (size >= 1e8) return `${sign}${groups(Math.round(size / 1e6).toString())} million`;
  if (size >= 1000) return sign + groups(Math.round(size).toString());
  if (size === 0) return '0';
  if (size < 1e-6) return tiny(value, '0.000001');
  if (size < 1e-3) return sign + size.toFixed(7).replace(/0+$/, '');
  return sign + String(Number(size.toPrecision(4)));
}

/** A number with its unit behind it, where it is one and has one. */
export const measured = (value: number | null | undefined, unit: string): string =>
  unit && value != null && Number.isFinite(value) ? `${amount(value)} ${unit}` : amount(value);

/** A number where there is room for some seven signs: whole from a hundred on, and of the smallest only that they are small. */
export function brief(value: number | null | undefined): string {
  if (value == null || !Number.isFinite(value)) return amount(value);
  const size = Math.abs(value);
  if (size > 0 && size < 1e-3) return tiny(value, '0.001');
  return amount(size >= 100 ? Math.round(value) : value);
}

export function tick(value: number): string {
  const size = Math.abs(value);
  const sign = value < 0 ? '−' : '';
  if (size >= 1e6) return `${sign}${groups(String(Number((size / 1e6).toPrecision(6))))} million`;
  if (size >= 1) return sign + groups(String(Math.trunc(size))) + (size % 1 ? String(Number((size % 1).toPrecision(4))).slice(1) : '');
  return sign + String(Number(size.toPrecision(4)));
}
