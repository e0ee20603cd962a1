// The run as the server sends it with every answer.
export interface Curve {
  id: string;
  kind: 'compartment' | 'flow' | 'quantity';
  symbol: string;
  label: string;
  colour: number;
  unit: string;
  provisional: boolean;
  values: (number | null)[];
}

export interface Observed {
  label: string;
  interval: number;
  times: number[];
  expected: (number | null)[];
  points: { start: number; end: number; value: number }[];
  problem: string | null;
}

export interface Run {
  unit: string;
  start: number;
  end: number;
  seed: number;
  random: boolean;
  times: number[];
  curves: Curve[];
  failure: string | null;
  observed: Observed | null;
}

export const readRunText = (): string => document.getElementById('run-data')?.textContent ?? '{}';

export const parseRun = (text: string): Run => JSON.parse(text) as Run;
