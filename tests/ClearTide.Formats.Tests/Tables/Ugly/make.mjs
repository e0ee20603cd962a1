// Makes small ugly tables, and what each must come to: written from the same numbers, by arithmetic of its own. Run it again after a
// change: node make.mjs
import { writeFileSync } from 'node:fs';
import { join } from 'node:path';

const day = 86_400_000,
  monday = Date.UTC(2031, 2, 3),
  sunday = Date.UTC(2031, 2, 2);
const names = ['Jan', 'Feb', 'Mar', 'Apr', 'May', 'Jun', 'Jul', 'Aug', 'Sep', 'Oct', 'Nov', 'Dec'];
const pad = number => String(number).padStart(2, '0');
const parts = at => {
  const date = new Date(at);
  return [date.getUTCFullYear(), date.getUTCMonth() + 1, date.getUTCDate()];
};
const iso = at => parts(at).map(pad).join('-');

/** How a date is written. */
const written = {
  iso,
  compact: at => parts(at).map(pad).join(''),
  'slashes, year first': at => parts(at).map(pad).join('/'),
  'dots, day first': at => parts(at).reverse().map(pad).join('.'),
  'dashes, day first': at => parts(at).reverse().map(pad).join('-'),
  'slashes, day first': at => parts(at).reverse().map(pad).join('/'),
  'two digits of the year': at => `${pad(parts(at)[2])}.${pad(parts(at)[1])}.${parts(at)[0] % 100}`,
  'slashes, month first': at => `${parts(at)[1]}/${parts(at)[2]}/${parts(at)[0]}`,
  words: at => `${parts(at)[2]} ${names[parts(at)[1] - 1]} ${parts(at)[0]}`,
  'words, month first': at => `${names[parts(at)[1] - 1]} ${parts(at)[2]}, ${parts(at)[0]}`,
  'time of day': at => `${iso(at)} 12:00`,
};

/** Times of the rows: what the cell says, and where the row begins and ends in days. */
const times = {
  number: k => ({ cell: form => number(7 * (k + 1), form), start: 7 * k, end: 7 * (k + 1) }),
  'ISO week': k => ({ cell: () => `2031-W${pad(10 + k)}`, start: 7 * k, end: 7 * k + 7, origin: monday }),
  'epi week': k => ({ cell: () => `2031-W${pad(10 + k)}`, start: 7 * k, end: 7 * k + 7, origin: sunday }),
  month: k => {
    const [from, to] = [Date.UTC(2031, k, 1), Date.UTC(2031, k + 1, 1)],
      origin = Date.UTC(2031, 0, 1);
    return { cell: () => `${names[k]} 2031`, start: (from - origin) / day, end: (to - origin) / day, origin };
  },
  'month by numbers': k => ({ ...times.month(k), cell: () => `2031-${pad(k + 1)}` }),
  year: k => {
    const [from, to, origin] = [2031 + k, 2032 + k, 2031].map(year => Date.UTC(year, 0, 1));
    return { cell: () => String(2031 + k), start: (from - origin) / day, end: (to - origin) / day, origin };
  },
};
for (const [name, write] of Object.entries(written))
  times[name] = k => ({
    cell: () => write(monday + 7 * k * day),
    start: 7 * k + (name === 'time of day' ? 0.5 : 0),
    end: 7 * (k + 1) + (name === 'time of day' ? 0.5 : 0),
    // A week ends on the first date, so that time zero is a week before it; the day of half a week's row is counted whole.
    origin: monday - 7 * day,
    at: 7 * k + (name === 'time of day' ? 0.5 : 0),
    stands: monday,
  });

/** A number in the form of the table. */
function number(value, { decimal = '.', thousands = '', minus = '-' }) {
  const [whole, fraction] = String(Math.abs(value)).split('.'),
    grouped = thousands ? whole.replace(/\B(?=(\d{3})+$)/g, thousands) : whole;
  return (value < 0 ? minus : '') + grouped + (fraction ? decimal + fraction : '');
}

const counts = [905, 1240, 2117, 4080, 10350, 12004, 8421, 3300, 1015];
const levels = [0.75, 2.5, 4.25, 6.125, 5.5, 3.75, 2.25, 1.5, 0.875];
const other = [12, 30, 71, 140, 255, 310, 190, 88, 23];

/** A table: cells row by row, and what they must come to. */
function make(spec) {
  const { time = 'number', sep = ',', layout = 'counts', missing, shuffled, quoted, heading = true } = spec;
  const form = { decimal: spec.decimal, thousands: spec.thousands, minus: spec.minus };
  const rows = counts.map((_, k) => ({ k, ...times[time](k) }));
  const lines = [];
  const say = (value, unit = '') => number(value, form) + unit;
  const gone = k => missing !== undefined && k === 3;
  const timeHead = time === 'year' ? 'year' : time === 'epi week' ? 'epi week' : time === 'number' ? 'day' : 'when';
  const stands = ['levels', 'below', 'percent', 'errors', 'levels and cases'].includes(layout);
  const of = { timeHead, stands, series: [], bad: [] };
  const span = (row, standing) => (standing ? [row.at ?? row.end, row.at ?? row.end] : [row.start, row.end]);
  const series = (title, values, standing, more = () => ({})) =>
    of.series.push({
      heading: title,
      standing,
      rows: rows.filter(row => !gone(row.k)).map(row => ({ span: span(row, standing), value: values[row.k], ...more(row.k) })),
    });
  const cell = (value, k, unit) => (gone(k) ? missing : say(value, unit));
  const head = [timeHead];
  let body;
  if (layout === 'counts') {
    head.push('cases');
    body = rows.map(({ k, cell: at }) => [at(form), cell(counts[k], k)]);
    series('cases', counts, false);
  } else if (layout === 'wide') {
    head.push('Tesk', 'Brin', 'remark');
    body = rows.map(({ k, cell: at }) => [at(form), cell(counts[k], k), cell(other[k], k), k % 2 ? 'calm' : '']);
    series('Tesk', counts, false);
    series('Brin', other, false);
  } else if (layout === 'long') {
    head.push('place', 'cases');
    body = rows.flatMap(({ k, cell: at }) => [
      [at(form), 'Tesk', cell(counts[k], k)],
      [at(form), 'Brin', cell(other[k], k)],
    ]);
    series('Tesk', counts, false);
    series('Brin', other, false);
  } else if (layout === 'levels') {
    head.push('level (mg/L)');
    body = rows.map(({ k, cell: at }) => [at(form), cell(levels[k], k)]);
    series('level (mg/L)', levels, true);
  } else if (layout === 'errors') {
    head.push('level', 'se');
    body = rows.map(({ k, cell: at }) => [at(form), cell(levels[k], k), say(0.25)]);
    series('level', levels, true, () => ({ error: 0.25 }));
  } else if (layout === 'below') {
    head.push('level');
    body = rows.map(({ k, cell: at }) => [at(form), levels[k] < 1 ? `<${say(1.5)}` : cell(levels[k], k)]);
    series('level', levels.map(value => (value < 1 ? 1.5 : value)), true, k => ({ below: levels[k] < 1 }));
  } else if (layout === 'percent') {
    head.push('share');
    body = rows.map(({ k, cell: at }) => [at(form), cell(levels[k], k, k % 2 ? '%' : ' %')]);
    series('share', levels.map(value => value / 100), true);
  } else if (layout === 'levels and cases') {
    head.push('level', 'cases');
    body = rows.map(({ k, cell: at }) => [at(form), cell(levels[k], k), cell(counts[k], k)]);
    series('level', levels, true);
    series('cases', counts, true);
  } else if (layout === 'totals') {
    const sums = counts.map((_, k) => counts.slice(0, k + 1).reduce((sum, one) => sum + one, 0));
    head.push('cases so far');
    body = rows.map(({ k, cell: at }) => [at(form), say(sums[k])]);
    // The first total says when counting begins, and no count.
    const from = time === 'number' ? 0 : 7;
    of.series.push({
      heading: 'cases so far',
      standing: false,
      totals: true,
      rows: rows.slice(1).map(row => ({ span: [row.start - from, row.end - from], value: counts[row.k] })),
    });
  } else if (layout === 'ends') {
    head[0] = 'from';
    head.push('to', 'cases');
    const write = written[time] ?? null;
    body = rows.map(({ k, cell: at, start }) => [
      write ? at(form) : number(start, form),
      write ? write(monday + (7 * k + 6) * day) : number(start + 7, form),
      cell(counts[k], k),
    ]);
    series('cases', counts, false);
  } else if (layout === 'outOf') {
    head.push('positive', 'tested');
    body = rows.map(({ k, cell: at }) => [at(form), cell(other[k], k), say(counts[k])]);
    series('positive', other.map((value, k) => value / counts[k]), true, k => ({ outOf: counts[k] }));
  }
  of.origin = layout === 'totals' && rows[0].stands ? rows[0].stands : undefined;
  of.origin ??= layout === 'ends' && rows[0].stands ? rows[0].stands : undefined;
  of.origin ??= of.series.every(one => one.standing) && rows[0].stands ? rows[0].stands : rows[0].origin;
  // A fixed disorder: each fourth row first, and so on.
  if (shuffled) body = [3, 1, 0, 2].flatMap(rest => body.filter((_, k) => k % 4 === rest));
  const inQuotes = one => quoted || one.includes(sep) || one.includes('"');
  const text = cells => cells.map(one => (inQuotes(one) ? `"${one.replaceAll('"', '""')}"` : one)).join(sep);
  for (const title of spec.titles ?? []) lines.push(title);
  if (heading) lines.push(text(head.map(one => (spec.accents ? one.replace('cases', 'Fälle') : one))));
  const at = [];
  for (const cells of body) {
    if (spec.gaps && at.length % 3 === 2) lines.push(sep.repeat(head.length - 1));
    lines.push(text(cells));
    at.push(lines.length);
    if (missing !== undefined && cells.includes(missing)) of.bad.push(lines.length);
  }
  if (layout === 'totals') of.bad.push(lines.findIndex(line => line === text(body.find(cells => cells[0] === rows[0].cell(form)))) + 1);
  if (spec.sum) {
    lines.push(text(['sum', ...head.slice(1).map((_, k) => (k === head.length - 2 ? say(43432) : ''))]));
    of.bad.push(lines.length);
  }
  if (spec.note) {
    lines.push(spec.note);
    of.bad.push(lines.length);
  }
  if (spec.accents) for (const one of of.series) one.heading = one.heading.replace('cases', 'Fälle');
  if (!heading) of.series.forEach((one, k) => (one.heading = `column ${k + 2}`));
  const eol = spec.eol ?? '\n';
  return { bytes: encode(lines.join(eol) + (spec.open ? '' : eol), spec.encoding ?? 'utf-8'), of };
}

function encode(text, encoding) {
  if (encoding === 'utf-8 with a mark') return Buffer.from('\uFEFF' + text, 'utf8');
  if (encoding === 'utf-16') return Buffer.from('\uFEFF' + text, 'utf16le');
  if (encoding === 'utf-16, big end first') return Buffer.from('\uFEFF' + text, 'utf16le').swap16();
  if (encoding === 'western') return Buffer.from(text, 'latin1');
  return Buffer.from(text, 'utf8');
}

const comma = { sep: ';', decimal: ',', thousands: '.' };
const specs = [
  {},
  { sep: ';' },
  { sep: '\t' },
  { sep: '|', gaps: true },
  { ...comma, sum: true },
  { ...comma, thousands: '', missing: 'NA' },
  { sep: '\t', decimal: ',', thousands: '.', missing: '' },
  { thousands: ',' },
  { thousands: "'" },
  { sep: ';', thousands: ' ' },
  { sep: ';', thousands: '\u00A0' },
  { sep: ';', thousands: '\u202F', decimal: ',' },
  { quoted: true, missing: '-' },
  { quoted: true, sep: ';', eol: '\r\n', gaps: true },
  { heading: false },
  { heading: false, sep: '\t', time: 'iso' },
  { titles: ['Marram fever in Tesk', ''], note: 'as the clinic counts it' },
  { titles: ['Marram fever;;', 'reported weekly;;'], sep: ';', sum: true, note: 'source: the clinic' },
  { encoding: 'utf-8 with a mark', accents: true },
  { encoding: 'utf-16', accents: true, sep: '\t' },
  { encoding: 'utf-16, big end first', accents: true, sep: ';' },
  { encoding: 'western', accents: true, sep: ';', eol: '\r\n' },
  { open: true, shuffled: true },
  ...Object.keys(written).map((time, k) => ({ time, sep: [';', ',', '\t'][k % 3], shuffled: k % 4 === 1, sum: k % 3 === 2 })),
  { time: 'iso', missing: 'n/a', shuffled: true },
  { time: 'dots, day first', ...comma, missing: '?', note: 'until the fair' },
  { time: 'slashes, day first', ...comma, titles: ['Tesk'], eol: '\r\n' },
  { time: 'ISO week' },
  { time: 'ISO week', ...comma, missing: '', shuffled: true },
  { time: 'epi week', sep: '\t' },
  { time: 'month', sum: true },
  { time: 'month by numbers', ...comma },
  { time: 'year', missing: 'NA' },
  { time: 'year', ...comma, layout: 'wide' },
  { layout: 'wide', missing: 'NA', sum: true },
  { layout: 'wide', ...comma, time: 'dots, day first', shuffled: true, gaps: true },
  { layout: 'long' },
  { layout: 'long', time: 'iso', sep: '\t', missing: '', shuffled: true, note: 'two places' },
  { layout: 'long', ...comma, time: 'ISO week', sum: true },
  { layout: 'levels', time: 'iso', ...comma, thousands: '' },
  { layout: 'levels', missing: 'NA', shuffled: true },
  { layout: 'errors', time: 'words', sep: ';' },
  { layout: 'errors', ...comma, thousands: '', gaps: true },
  { layout: 'below' },
  { layout: 'below', ...comma, thousands: '', time: 'dots, day first' },
  { layout: 'percent', sep: ';' },
  { layout: 'percent', ...comma, thousands: '', missing: 'NA' },
  { layout: 'levels and cases', sep: '\t', time: 'iso' },
  { layout: 'totals' },
  { layout: 'totals', time: 'dots, day first', ...comma, sum: true },
  { layout: 'totals', time: 'iso', shuffled: true },
  { layout: 'ends' },
  { layout: 'ends', time: 'iso', missing: 'NA' },
  { layout: 'ends', time: 'dots, day first', ...comma, shuffled: true },
  { layout: 'outOf', time: 'iso' },
  { layout: 'outOf', ...comma, missing: 'NA' },
];

const expected = specs.map((spec, k) => {
  const { bytes, of } = make(spec),
    file = `${pad(k + 1)}.csv`;
  writeFileSync(join(import.meta.dirname, file), bytes);
  return {
    file,
    spec: Object.entries(spec)
      .map(([name, value]) => `${name} ${JSON.stringify(value)}`)
      .join(', '),
    origin: of.origin === undefined ? null : iso(of.origin),
    series: of.series,
    bad: [...new Set(of.bad)].sort((a, b) => a - b),
  };
});
writeFileSync(join(import.meta.dirname, 'expected.json'), JSON.stringify(expected, null, 1) + '\n');
