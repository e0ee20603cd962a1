// What the server sends for the panels: a run, and what each panel makes of it.
import { allCurves, readRun, type Run, type Sent } from '../build/run';

export interface Column {
  name: string;
  problem: string | null;
  values: (number | null)[];
}

export interface Term {
  id: string;
  name: string;
  colour: number;
  values: (number | null)[];
}

export interface PanelData {
  formulas?: Column[];
  symbol?: string;
  terms?: Term[];
  turns?: { time: number; words: string }[];
  made?: string[];
  times?: number[];
  columns?: { name: string; values: (number | null)[] }[];
  rowsInAll?: number;
  problem?: string | null;
}

export interface Explored {
  run: Run;
  panels: Record<string, PanelData>;
}

export function parseExplored(text: string): Explored {
  const sent = JSON.parse(text) as { run: Sent; panels: Record<string, PanelData> };
  const run = readRun(sent.run);
  // Here members are curves to choose among all others.
  return { run: { ...run, curves: allCurves(run) }, panels: sent.panels };
}

/** What a panel is told by the document. */
export interface Settings {
  title: string;
  chosen: string[];
  second: string[];
  log: boolean;
  shape: 'Lines' | 'Stacked' | 'Shares' | 'Sum';
  minimum: string;
  maximum: string;
  x: string;
  y: string;
  value: string;
  second2: string;
  spacing: string;
  digits: string;
  every: string;
  height: number;
  withData: boolean;
  bands: boolean;
}

export const settingsOf = (panel: HTMLElement): Settings => JSON.parse(panel.dataset.settings ?? '{}') as Settings;

export const number = (text: string): number | undefined =>
  text.trim() === '' || !Number.isFinite(Number(text)) ? undefined : Number(text);
