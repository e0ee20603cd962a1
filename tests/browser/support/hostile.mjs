// A generator of hostile input: whatever could come in from outside, made from a seed, so that what was found can be made again.
import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { lines, pieces } from './hostile-lines.mjs';
import { root } from './server.mjs';

/** Every handler of every page with the names of what it takes, read from the pages themselves, so that none is forgotten. */
export function handlers() {
  const folder = join(root, 'src/ClearTide.Web/Pages');
  return readdirSync(folder, { recursive: true })
    .filter(name => name.endsWith('.cs'))
    .flatMap(name => {
      const text = readFileSync(join(folder, name), 'utf8');
      const step = /Studies\/(\w+)\./.exec(name.replaceAll('\\', '/'))?.[1].toLowerCase();
      const page = step ?? (name.includes('Settings') ? '/settings' : name.startsWith('Index') ? '/' : null);
      if (!page) return [];
      return [...text.matchAll(/public (?:async )?[\w<>]+ On(Get|Post)(\w*?)(?:Async)?\(([^)]*)\)/g)].map(
        ([, method, handler, parameters]) => ({
          page,
          method: method.toUpperCase(),
          handler,
          fields: parameters.includes('TableForm')
            ? [
                'text',
                'name',
                'series[0].label',
                'series[0].flowId',
                'series[0].formula',
                'series[0].reporting',
                'interval',
                'role',
                'marks',
                'form',
                'version',
              ]
            : [...parameters.matchAll(/(\w+)(?:,|$| =)/g)].map(found => found[1]).filter(field => field !== 'file'),
        }),
      );
    });
}

const long = (letter, count) => letter.repeat(count);
/** Values that have broken programs before, and good ones that lead further in. */
const values = [
  '',
  ' ',
  '0',
  '-1',
  '1',
  '7',
  'NaN',
  'Infinity',
  '-Infinity',
  '1e999',
  '-1e308',
  '4.9e-324',
  '99999999999999999999',
  '0x10',
  '1,5',
  '\0',
  'a\0b',
  '\uFFFF',
  '\uD800',
  '🜍',
  'ﷺ',
  'a\u202Eb',
  'null',
  'undefined',
  '[]',
  '{}',
  '[null]',
  '{"beta":1e999}',
  '{"beta":null}',
  '{"I.start":-5}',
  "' or 1=1 --",
  '<script>alert(1)</script>',
  '../../etc',
  '%00',
  '%n%s',
  'c1',
  'c2',
  'c1,c2',
  'v1',
  'f1',
  'k1',
  'x1',
  'x2',
  'beta',
  'gamma',
  'I.start',
  'c1:1:2;c2:3:4',
  'c1:NaN:1',
  'c1:1e999:2',
  'S',
  'outside',
  'day',
  'week',
  'true',
  'false',
  'csv',
  'xlsx',
  'text',
  'latex',
  'Run',
  'Curves',
  'Phase',
  'Sweep',
  'Sensitivity',
  'Table',
  'Text',
  'Rate',
  'Start',
  'Symbol',
  'Euler',
  '2031-02-30',
  '2031-02-03',
  'points 0 1, 10 2',
  '1 2\n3 4',
  '9000 10, 12000 50',
  long('(', 300),
  long('((', 5000),
  long('a+', 3000) + 'a',
  long('9', 4000),
  long('x', 20000),
  long('A -> B at 1; ', 500),
  long('1 2\n', 9000),
  long('0,1;', 4000),
];

const parts = ['c1', 'c2', 'c4', 'c6', 'f3', 'f5', 'f7', 'f12', 'v13', 'v14', 'v15'];
/** What a page would send, so that most requests get past the first look. */
const usual = {
  partId: parts,
  partIds: ['c1,c2', 'c1,c2,c4,c6', 'f7', 'v13,v14'],
  from: parts,
  to: parts,
  beforeId: parts,
  regionId: ['g23', 'g24', 'g25'],
  markId: ['r23', 'n23', 'n24', 'g23'],
  textId: ['', 'n23', 'n24'],
  field: [
    'Symbol',
    'Label',
    'Text',
    'Rate',
    'Start',
    'Note',
    'Unit',
    'Stages',
    'Target',
    'Share',
    'Colour',
    'Lower',
    'Upper',
    'Points',
    'Period',
    'Origin',
    'title',
    'curves',
    'second',
    'formulas',
    'minimum',
    'maximum',
    'of',
    'against',
    'address',
    'count',
    'list',
    'runs',
    'every',
    'digits',
    'starts',
    'level',
  ],
  x: ['1', '1e300', '-4000'],
  y: ['1', '1e300', '-4000'],
  leg: ['0', '1', '-1', '99'],
  at: ['0', '1', '-1', '99'],
  by: ['1', '-1', '2147483647'],
  panel: ['x1', 'x2', 'x3', 'x23', 'x24', 'x25'],
  kind: ['Curves', 'Phase', 'Sweep', 'Sensitivity', 'Table', 'Outcomes', 'Checks', 'Budget', 'Observed'],
  scenario: ['s21'],
  measure: ['', 'm22', 'm99'],
  address: ['beta', 'gamma', 'I.start'],
  tick: ['beta'],
  lower: ['0.01', '-5', '1e300'],
  upper: ['2', '0', '1e300'],
  shape: ['Bend', 'Caption', 'Size', 'Open'],
  change: ['ByNumber', 'ByShare', 'Split'],
  method: ['Euler', 'Automatic', 'Discrete'],
  unit: ['week', 'year'],
  view: ['Run', 'Units', 'Equations'],
  number: ['1', '2', '99'],
  run: ['k1'],
  form: ['csv', 'xlsx', 'text', 'lines'],
  set: ['{"beta":0.9}', '{}'],
  law: ['Poisson', 'NegativeBinomial'],
  groupId: ['g23', 'g24', 'g99'],
  member: ['child', 'old', 'a b'],
  into: ['adult', 'child'],
  shares: ['1 2 1', '-1 0', 'a'],
  share: ['50', '-3', '1e9'],
  table: ['1 2\n3 4', '7.4 4.9 0.7\n2.1 6.7 1.1\n0.6 2.5 2', '0.4'],
  eigenvalue: ['1', '-1', '0'],
  rate: ['after 5 years', 'at M[age, to]', 'at 0.1'],
  passageId: ['', 'p25'],
  cost: ['500, 20 per day', '3 each', '1e300 each time', '-5', 'dear'],
  on: ['s1', 'zz', ''],
  formulas: ['ever(I > 40)', 'end(I)\nstart(S)', 'I > 4', 'value(I, t)', 'peak(peak(I))', 'total(flow(S, E)) / 0'],
  members: ['child, adult, old', '0 to 4, 5 to 17', 'a'],
};

/** The study with a scenario that does something on a condition, and split by a group, too. */
function withRule(text) {
  const study = JSON.parse(text);
  study.study.scenarios[0].rules = [{ id: 'm99', label: '', text: 'while I > 300: beta = 0.6 * beta' }];
  study.study.scenarios[0].costs = [{ measureId: 'm99', text: '500, 20 per day' }];
  study.study.scenarios[0].buildsOn = ['s98'];
  study.study.groups = [
    {
      id: 'g97',
      symbol: 'age',
      label: 'Age',
      members: [{ symbol: 'child' }, { symbol: 'old', label: '65 and over' }],
      passages: [{ id: 'p98', kind: 'along', rateKind: 'meanStay', rate: '900 days' }],
    },
  ];
  study.study.splits = study.study.compartments.map(part => ({
    partId: part.id,
    groups: ['g97'],
    lines: [
      { member: 'child', text: '40' },
      { member: 'old', text: '30' },
    ],
  }));
  return JSON.stringify(study);
}

export class Hostile {
  #state;
  #handlers = handlers();
  #study = withRule(readFileSync(join(root, 'demo/marram-fever.study.json'), 'utf8'));
  #table = readFileSync(join(root, 'demo/marram-fever-cases.csv'), 'utf8');

  /** @param {string} sbml a model that is spoiled and imported */
  constructor(seed, sbml) {
    this.#state = seed >>> 0;
    this.sbml = sbml;
  }

  /** A number from 0 to 1, the same ones in each run of a seed (a linear congruential generator). */
  next() {
    this.#state = (Math.imul(this.#state, 1664525) + 1013904223) >>> 0;
    return this.#state / 2 ** 32;
  }

  pick(list) {
    return list[Math.floor(this.next() * list.length)];
  }

  /** A text with some places changed: pieces put in, taken out, doubled. */
  spoil(text, most = 4) {
    for (let k = 1 + Math.floor(this.next() * most); k > 0; k--) {
      const at = Math.floor(this.next() * (text.length + 1)),
        length = Math.floor(this.next() * 12);
      const put = this.next() < 0.6 ? this.pick(pieces) : this.next() < 0.5 ? text.slice(at, at + length) : '';
      text = text.slice(0, at) + put + text.slice(at + (this.next() < 0.5 ? length : 0));
    }
    return text;
  }

  /** A tree of JSON with one or a few places changed. */
  spoilJson(text) {
    const tree = JSON.parse(text);
    for (let k = 1 + Math.floor(this.next() * 3); k > 0; k--) {
      let at = tree;
      for (;;) {
        const keys = Object.keys(at),
          key = this.pick(keys);
        if (key === undefined) break;
        if (at[key] && typeof at[key] === 'object' && this.next() < 0.85) at = at[key];
        else {
          const how = this.next();
          if (how < 0.2) Array.isArray(at) ? at.splice(Number(key), 1) : delete at[key];
          else if (how < 0.3 && Array.isArray(at)) at.push(at[key]);
          else at[key] = this.pick([null, 7, -1e300, 'x', '', [], {}, [null], true, '\0', long('(', 9000), long('t', 130000)]);
          break;
        }
      }
    }
    return JSON.stringify(tree);
  }

  /** One request: what is asked, of which page, with what. Pages of studies are given without their study. */
  request() {
    const kind = this.next();
    if (kind < 0.3)
      return {
        page: 'build',
        method: 'POST',
        handler: this.pick(['Add', 'Preview']),
        fields: { text: Array.from({ length: 1 + Math.floor(3 * this.next()) }, () => this.spoil(this.pick(lines))).join('; ') },
      };
    if (kind < 0.36)
      return {
        page: '/',
        method: 'POST',
        handler: 'Import',
        file: { name: 'a.study.json', text: this.next() < 0.8 ? this.spoilJson(this.#study) : this.spoil(this.#study) },
      };
    if (kind < 0.4) return { page: '/', method: 'POST', handler: 'Import', file: { name: 'a.xml', text: this.spoil(this.sbml, 3) } };
    if (kind < 0.46)
      return {
        page: 'data',
        method: 'POST',
        handler: this.pick(['Preview', 'Use']),
        fields: {
          text: this.spoil(this.#table, 6),
          interval: this.pick(['', '7', ...values]),
          role: this.pick(['Time', 'Value', 'Nothing', '7']),
          'series[0].seen': this.pick(['Flowed', 'Standing', '9', '']),
          marks: this.pick(['start', 'end']),
          form: 'table',
        },
      };
    const { page, method, handler, fields } = this.pick(this.#handlers);
    return {
      page,
      method,
      handler,
      fields: Object.fromEntries(
        fields
          .filter(field => this.next() < (field === 'version' ? 0.03 : 0.93))
          .map(field => [field, this.pick(usual[field] && this.next() < 0.7 ? usual[field] : values)]),
      ),
    };
  }
}
