// Which members of a split model are looked at: the sum, all in lanes, or one of them alone.
import type { Curve, Numbers, Run } from './run';

const kept = (): string => `clear-tide member ${document.querySelector<HTMLElement>('[data-study]')?.dataset.study ?? ''}`;

/** All members side by side. */
export const lanes = '*';

let chosen: string | null = null;

/** The symbol of the member that is looked at; empty for the sum, a star for all of them in lanes. */
export function member(): string {
  chosen ??= sessionStorage.getItem(kept()) ?? lanes;
  return chosen;
}

function added(curves: Curve[]): Numbers {
  const sum = new Float64Array(curves[0]!.values.length);
  for (const curve of curves) for (let k = 0; k < sum.length; k++) sum[k]! += curve.values[k]!;
  return sum;
}

/** A run as that of one member: what is split by its group is that member's, over all others it is split by. */
export function ofMember(run: Run, symbol: string): Run {
  const group = run.groups.find(one => one.members.some(([member]) => member === symbol));
  if (!group) return run;
  const byPart = new Map<string, Curve[]>();
  for (const curve of run.members) if (curve.members!.includes(symbol)) byPart.set(curve.of!, [...(byPart.get(curve.of!) ?? []), curve]);
  const curves = run.curves.map(curve => {
    const own = byPart.get(curve.id);
    if (!own) return curve;
    const values = own.length === 1 ? own[0]!.values : added(own);
    let peak = 0;
    for (const value of values) if (Math.abs(value) > peak) peak = Math.abs(value);
    return { ...curve, values, peak };
  });
  return { ...run, curves };
}

/** Where in the panel a chart stands, and on which scale. */
export interface Pane {
  title: string;
  /** The member that it is of; empty for all. */
  symbol: string;
  left: number;
  width: number;
  height: number;
  top: number;
  isFirst: boolean;
}

/** What the diagram and the ledger show. */
export const shown = (run: Run): Run => (member() === '' || member() === lanes ? run : ofMember(run, member()));

/** The runs that are drawn side by side, each with its heading; one without where there is nothing to tell apart. */
export function panes(run: Run): { title: string; symbol: string; run: Run }[] {
  const first = run.groups.find(group => run.members.some(curve => group.members.some(([one]) => curve.members!.includes(one))));
  if (!first || member() === '' || (member() === lanes && first.members.length > most)) return [{ title: '', symbol: '', run }];
  if (member() !== lanes) return [{ title: nameOf(run, member()), symbol: member(), run: ofMember(run, member()) }];
  return first.members.map(([symbol, name]) => ({ title: name, symbol, run: ofMember(run, symbol) }));
}

/** More panes side by side are too small to be read. */
const most = 6;

const nameOf = (run: Run, symbol: string): string =>
  run.groups.flatMap(group => group.members).find(([one]) => one === symbol)?.[1] ?? symbol;

function button(symbol: string, words: string): HTMLButtonElement {
  const made = document.createElement('button');
  made.type = 'button';
  made.className = 'plain aria-pressed:text-tide! aria-pressed:underline';
  made.textContent = words;
  made.dataset.choose = symbol;
  made.setAttribute('aria-pressed', String(member() === symbol));
  return made;
}

/** Lists what can be looked at beside the diagram. */
export function listMembers(run: Run): void {
  const place = document.getElementById('member-view');
  if (!place) return;
  const groups = run.groups.filter(group => run.members.some(curve => group.members.some(([one]) => curve.members!.includes(one))));
  place.hidden = groups.length === 0;
  if (!place.hidden && member() !== '' && member() !== lanes && !groups.some(group => group.members.some(([one]) => one === member())))
    chosen = lanes;
  const says = JSON.stringify([groups, member()]);
  if (place.dataset.says === says) return;
  place.dataset.says = says;
  const [first] = groups;
  if (!first) {
    place.replaceChildren();
    return;
  }
  const words = document.createElement('span');
  words.textContent = `Split by ${groups.map(group => group.symbol).join(' and ')}`;
  const focused = (document.activeElement as HTMLElement | null)?.dataset.choose;
  place.replaceChildren(
    words,
    button(lanes, 'lanes'),
    button('', 'sum'),
    ...groups.flatMap(group => group.members.slice(0, 12).map(([symbol, name]) => button(symbol, name))),
  );
  if (focused !== undefined) place.querySelector<HTMLElement>(`[data-choose="${focused}"]`)?.focus();
}

/** @param changed Called when another member is looked at. */
export function startMembers(root: HTMLElement, changed: () => void): void {
  const choose = (symbol: string): void => {
    chosen = symbol;
    sessionStorage.setItem(kept(), symbol);
    changed();
  };
  root.addEventListener('click', event => {
    const target = event.target as Element;
    const choice = target.closest<HTMLElement>('[data-choose]');
    if (choice) choose(choice.dataset.choose!);
    // A lane that is clicked is looked at alone, and once more all of them.
    const lane = target.closest<SVGGElement>('.lane');
    if (lane) choose(member() === lane.dataset.member ? lanes : lane.dataset.member!);
  });
}
