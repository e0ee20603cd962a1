// What flows into a compartment and out of it, and in words what moves and turns it.
import { amount, each } from '../chart/numbers';
import { valueAt } from '../chart/marks';
import type { Run } from '../build/run';
import type { Explored, PanelData } from './data';
import { drawPlot, type Series, type View } from './plot';

export function drawBudget(
  place: HTMLElement,
  words: HTMLElement,
  explored: Explored,
  panel: string,
  view: View,
  redraw: () => void,
  size: { width: number; height: number },
): void {
  const data = explored.panels[panel],
    run = explored.run;
  if (!data?.terms) {
    place.replaceChildren();
    words.textContent = data?.problem ?? '';
    return;
  }
  const series: Series[] = data.terms.map((term, k) => ({
    id: term.id,
    name: term.name,
    times: run.times,
    values: term.values,
    className: `hue-c${term.colour || (k % 10) + 1}`,
  }));
  const all = data.turns?.map(turn => turn.words).join(' ') ?? '';
  words.textContent = all;
  drawPlot(
    place,
    {
      series,
      xName: run.unit,
      xUnit: `${run.unit}s`,
      time: true,
      yTitle: `into and out of ${data.symbol} ${each(run.per)}`,
      label: `Inflows and outflows of ${data.symbol}`,
      shape: 'Stacked',
      seen: time => {
        words.textContent = time === null ? all : atCursor(data, run, time);
      },
    },
    view,
    redraw,
    size,
    true,
  );
}

/** What moves an amount at a time, the strongest first, and what turned it last. */
function atCursor(data: PanelData, run: Run, time: number): string {
  const terms = data
    .terms!.map(term => ({ name: term.name, value: valueAt(run.times, term.values, time) ?? 0 }))
    .filter(term => term.value !== 0)
    .sort((a, b) => Math.abs(b.value) - Math.abs(a.value));
  const net = terms.reduce((sum, term) => sum + term.value, 0),
    most = Math.abs(terms[0]?.value ?? 0);
  const way =
    Math.abs(net) <= 1e-6 * most || terms.length === 0
      ? 'stands still'
      : `${net > 0 ? 'rises' : 'falls'} by ${amount(Math.abs(net))} ${each(run.per)}`;
  const moved = terms
    .slice(0, 4)
    .map(term => `${term.name} ${term.value > 0 ? 'brings' : 'takes'} ${amount(Math.abs(term.value))}`)
    .join(', ');
  const turned = data.turns?.filter(turn => turn.time <= time).at(-1)?.words;
  return `At ${run.unit} ${amount(time)} ${data.symbol} ${way}${moved ? `: ${moved}` : ''}.${turned ? ` ${turned}` : ' It has not turned before.'}`;
}
