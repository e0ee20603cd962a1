// The run as the server sends it with every answer.
import type { DataPoint } from '../chart/points';

/** Doubles, or single precision where no last digit matters. */
export type Numbers = Float64Array | Float32Array;

export interface Curve {
  id: string;
  kind: 'compartment' | 'flow' | 'quantity';
  symbol: string;
  label: string;
  colour: number;
  unit: string;
  provisional: boolean;
  values: Numbers;
  /** The greatest size of its values. */
  peak: number;
  /** The part that it is a member of, with the members of the groups that it stands for; of what is not split neither. */
  of?: string;
  members?: string[];
}

/** What parts are split by: each member with its symbol and its name. */
export interface Group {
  symbol: string;
  members: [string, string][];
}

/** A series of data with what the run expects of it. */
export interface Observed {
  id: string;
  label: string;
  /** Number of the colour of its points; 0 for that of what they were seen of. */
  colour: number;
  /** The curve that it was seen of, on which its points lie; null where it has an axis of its own. */
  curve: string | null;
  /** Ids of the parts whose curves have to do with it. */
  about: string[];
  /** What its axis says. */
  axis: string;
  /** Whether rows are counts, whose axis reaches one at least. */
  counted: boolean;
  /** The unit of what was seen; may be empty. */
  seenIn: string;
  times: number[];
  expected: (number | null)[];
  points: DataPoint[];
  problem: string | null;
}

export interface Run {
  unit: string;
  /** The unit of time for any number but one. */
  units: string;
  /** What flows are counted by: the unit of time, or a step. */
  per: string;
  start: number;
  end: number;
  method: string;
  step: number;
  tolerance: number;
  seed: number;
  random: boolean;
  times: Float64Array;
  curves: Curve[];
  failure: string | null;
  /** What has to be known to read the curves. */
  remark: string | null;
  observed: Observed[];
  /** Time, amount where it is known, duration, number of the colour and symbol of what it goes into. */
  doses: [number, number | null, number, number, string][];
  groups: Group[];
  /** The curves of members of split parts; `curves` has their totals. */
  members: Curve[];
}

/** The numbers of a large run come behind what made them: those of an earlier version are not wanted where they come last. */
export function refuseOlder(): void {
  document.addEventListener('htmx:beforeSwap', event => {
    const { detail } = event as CustomEvent<{ target: Element; requestConfig: { path: string }; shouldSwap: boolean }>;
    if (detail.target.id !== 'run-numbers') return;
    const of = new URLSearchParams(detail.requestConfig.path.split('?')[1]).get('of');
    if (of !== document.querySelector<HTMLInputElement>('#version')?.value) detail.shouldSwap = false;
  });
}

/** Empty as long as the numbers of a large model are on their way. */
export const readRunText = (): string => document.getElementById('run-data')?.textContent ?? '';

export type Sent = Omit<Run, 'times' | 'curves' | 'members'> & {
  count: number;
  numbers: string;
  curves: (Omit<Curve, 'values' | 'peak'> & { single: boolean })[];
};

const peakOf = (values: Numbers): number => {
  let peak = 0;
  for (const value of values) if (Math.abs(value) > peak) peak = Math.abs(value);
  return peak;
};

/** The browser's own decoder where it has one; byte by byte takes ten times as long, and a mapped array a hundred times. */
function bytesOf(text: string): Uint8Array<ArrayBuffer> {
  const own = (Uint8Array as unknown as { fromBase64?: (text: string) => Uint8Array<ArrayBuffer> }).fromBase64;
  if (own) return own.call(Uint8Array, text);
  const signs = atob(text),
    bytes = new Uint8Array(signs.length);
  for (let k = 0; k < bytes.length; k++) bytes[k] = signs.charCodeAt(k);
  return bytes;
}

/** The numbers come in one block: the times, then every curve, each beginning at a multiple of eight bytes. */
export const parseRun = (text: string): Run => readRun(JSON.parse(text) as Sent);

export function readRun(sent: Sent): Run {
  const block = bytesOf(sent.numbers).buffer;
  let at = 8 * sent.count;
  const curves = sent.curves.map(curve => {
    const values = curve.single ? new Float32Array(block, at, sent.count) : new Float64Array(block, at, sent.count);
    at += 8 * (curve.single ? Math.ceil(sent.count / 2) : sent.count);
    return { ...curve, values, peak: peakOf(values) };
  });
  // A quantity that is split has no total of its own kind: it is there member by member.
  return {
    ...sent,
    times: new Float64Array(block, 0, sent.count),
    curves: curves.filter(curve => !curve.of),
    members: curves.filter(curve => curve.of),
  };
}

/** The curves of all parts, those of members with them. */
export const allCurves = (run: Run): Curve[] => [...run.curves, ...run.members];
