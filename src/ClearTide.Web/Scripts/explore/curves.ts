// Curves over time: those of the run and of kept runs, formulas over results, and what was observed below them.
import { each } from '../chart/numbers';
import { valueAt } from '../chart/marks';
import type { Fan } from '../build/chance';
import type { Curve, Run } from '../build/run';
import { number, type Explored, type Settings } from './data';
import { pointsOf } from '../chart/points';
import { dataBelow, dataOn, observedPlot } from './observed';
import { parts } from './parts';
import { drawPlot, type Plot, type Series, type View } from './plot';

export interface KeptShown {
  id: string;
  name: string;
  colour: number;
  explored: Explored;
}

export type Compared = '' | 'difference' | 'ratio';

const unitOf = (curve: Curve, run: Run): string => curve.unit || (curve.kind === 'flow' ? each(run.per) : '');

/** One name for what curves are counted in, or several with commas. */
const title = (curves: Curve[], run: Run): string =>
  [...new Set(curves.map(curve => unitOf(curve, run)))].filter(Boolean).slice(0, 3).join(', ');

function formulas(explored: Explored, id: string, second: string[], className: (k: number) => string, suffix: string): Series[] {
  return (explored.panels[id]?.formulas ?? []).flatMap((column, k) =>
    column.values.length
      ? [
          {
            id: `=${column.name}${suffix}`,
            name: column.name + suffix,
            times: explored.run.times,
            values: column.values,
            className: className(k),
            second: second.includes(`=${column.name}`),
            over: true,
          },
        ]
      : [],
  );
}

export function curveSeries(explored: Explored, panel: string, settings: Settings, kept: KeptShown[], compared: Compared): Series[] {
  const run = explored.run,
    chosen = run.curves.filter(curve => settings.chosen.includes(curve.id));
  const many = kept.length > 0;
  // One run: colour stands for the curve. Several: colour stands for the run, and dashes tell the curves.
  const own: Series[] = chosen.map((curve, k) => ({
    id: curve.id,
    name: curve.symbol,
    times: run.times,
    values: curve.values,
    unit: unitOf(curve, run),
    className: many ? `hue-c0 dash${k % 5}` : `hue-c${curve.colour}${curve.kind === 'flow' ? ' dash1' : ''}`,
    second: settings.second.includes(curve.id),
    over: explored.panels[panel]?.made?.includes(curve.id) === true,
  }));
  const made = formulas(
    explored,
    panel,
    settings.second,
    k => (many ? `hue-c0 dash${(chosen.length + k) % 5}` : `hue-c${((chosen.length + k) % 10) + 1} dash2`),
    '',
  );
  const others = kept.flatMap(other => {
    const theirs: Series[] = chosen.flatMap((curve, k) => {
      const same = other.explored.run.curves.find(candidate => candidate.id === curve.id);
      return same
        ? [
            {
              id: `${other.id} ${curve.id}`,
              name: `${curve.symbol} · ${other.name}`,
              times: other.explored.run.times,
              values: same.values,
              unit: unitOf(curve, run),
              className: `hue-c${other.colour} dash${k % 5}`,
              second: settings.second.includes(curve.id),
            },
          ]
        : [];
    });
    return [
      ...theirs,
      ...formulas(other.explored, panel, settings.second, k => `hue-c${other.colour} dash${(chosen.length + k) % 5}`, ` · ${other.name}`),
    ];
  });
  if (compared === '' || others.length === 0) return [...own, ...made, ...others];
  const base = new Map([...own, ...made].map(series => [series.name, series]));
  return others.flatMap(series => {
    const now = base.get(series.name.split(' · ')[0]!);
    if (!now) return [];
    const values = Array.from({ length: series.times.length }, (_, k) => {
      const mine = valueAt(now.times, now.values, series.times[k]!),
        theirs = series.values[k];
      if (mine === null || theirs == null) return null;
      return compared === 'difference' ? theirs - mine : mine === 0 ? null : theirs / mine;
    });
    return [{ ...series, values, second: false, ...(compared === 'ratio' ? { unit: '' } : {}) }];
  });
}

/** Bands of many runs by chance and a few of them, behind the curves of the first axis. */
function layFan(plot: Plot, fan: Fan, chosen: Curve[], settings: Settings): void {
  const found = chosen.flatMap(curve =>
    fan.bands[curve.id] && !settings.second.includes(curve.id) ? [{ curve, bands: fan.bands[curve.id]! }] : [],
  );
  plot.bands = found.flatMap(({ curve, bands }) => [
    { id: curve.id, times: fan.times, low: bands.p5, high: bands.p95, className: `band outer hue-c${curve.colour}` },
    { id: curve.id, times: fan.times, low: bands.p25, high: bands.p75, className: `band inner hue-c${curve.colour}` },
  ]);
  plot.strands = found.flatMap(({ curve, bands }) =>
    bands.runs.map(values => ({ id: curve.id, times: fan.times, values, className: `line before by-chance hue-c${curve.colour}` })),
  );
}

export function drawCurves(
  place: HTMLElement,
  words: HTMLElement,
  explored: Explored,
  panel: string,
  settings: Settings,
  view: View,
  kept: KeptShown[],
  compared: Compared,
  fan: Fan | null,
  redraw: () => void,
  size: { width: number; height: number },
): void {
  const run = explored.run;
  const chosen = run.curves.filter(curve => settings.chosen.includes(curve.id));
  const lost = settings.chosen.filter(id => !run.curves.some(curve => curve.id === id)).length;
  const problems = (explored.panels[panel]?.formulas ?? [])
    .filter(column => column.problem)
    .map(column => `${column.name}: ${column.problem}`);
  words.textContent = [...problems, lost ? `${lost} of its curves ${lost === 1 ? 'is' : 'are'} no longer in the model.` : '']
    .filter(Boolean)
    .join(' ');
  const plain = settings.shape === 'Lines' && compared === '';
  // Observed counts lie beside what is counted, never on people's axis.
  const plot: Plot = {
    series: curveSeries(explored, panel, settings, kept, compared),
    xName: run.unit,
    xUnit: `${run.unit}s`,
    time: true,
    label: 'Curves over time',
    log: settings.log && compared === '',
    yTitle:
      compared === 'ratio'
        ? 'ratio to now'
        : compared === 'difference'
          ? 'difference from now'
          : title(
              chosen.filter(curve => !settings.second.includes(curve.id)),
              run,
            ),
    secondTitle: title(
      chosen.filter(curve => settings.second.includes(curve.id)),
      run,
    ),
    shape: plain || kept.length || compared ? (settings.shape === 'Sum' && !compared ? 'Sum' : 'Lines') : settings.shape,
  };
  const minimum = number(settings.minimum),
    maximum = number(settings.maximum);
  if (minimum !== undefined) plot.minimum = minimum;
  if (maximum !== undefined) plot.maximum = maximum;
  if (plain) plot.points = dataOn(explored, settings).flatMap(pointsOf);
  if (plain && kept.length === 0 && fan) layFan(plot, fan, chosen, settings);
  const below = dataBelow(explored, settings);
  // Counts by the interval lie below the curves they have to do with, on an axis of their own and the same stretch of time.
  if (below.length === 0) {
    drawPlot(place, plot, view, redraw, size);
    return;
  }
  const [above, ...places] = parts(place, 1 + below.length),
    share = Math.round(0.62 * size.height);
  drawPlot(above!, plot, view, redraw, { ...size, height: share });
  below.forEach((one, k) => {
    if (one.problem) words.textContent = `${words.textContent} ${one.problem}`.trim();
    const height = Math.max(110, (size.height - share) / below.length);
    drawPlot(places[k]!, { ...observedPlot(run, one), domain: [run.start, run.end] }, view, redraw, { ...size, height });
  });
}
