// A chart of curves over something: zoom by dragging, names that hide, a second axis, equal ratios, stacks.
import { drawWords } from '../chart/words';
import { area } from 'd3-shape';
import { timeName } from '../chart/calendar';
import { frame, type Frame } from '../chart/frame';
import { attachHover } from '../chart/hover';
import { attachPick } from '../chart/pick';
import { drawEndNames, drawLine, drawPoints, valueAt, type Point, type Samples } from '../chart/marks';
import { amount, measured } from '../chart/numbers';
import { svg } from '../chart/svg';
import { leave } from './leave';

export interface Series {
  id: string;
  name: string;
  times: ArrayLike<number>;
  values: Samples;
  className: string;
  /** What its values are counted in, where that is known. */
  unit?: string;
  /** Whether it stands on the second axis. */
  second?: boolean;
  /** Whether it is made of others, and so lies over a stack as a line and counts in no sum. */
  over?: boolean;
  /** Whether it lies behind, without a name at its end. */
  behind?: boolean;
}

export interface Plot {
  series: Series[];
  xName: string;
  xUnit: string;
  /** Whether the level axis is time, and may show dates. */
  time?: boolean;
  yTitle: string;
  secondTitle?: string;
  label: string;
  log?: boolean;
  shape?: 'Lines' | 'Stacked' | 'Shares' | 'Sum';
  /** The stretch shown where nothing is zoomed into; else what the curves need. */
  domain?: [number, number];
  minimum?: number;
  maximum?: number;
  points?: Point[];
  /** Stretches between two curves, behind all lines; those of a series go with it. */
  bands?: { id?: string; times: ArrayLike<number>; low: number[]; high: number[]; className: string }[];
  /** Lines behind all others, without a name, that go with a series. */
  strands?: { id: string; times: ArrayLike<number>; values: number[]; className: string }[];
  words?: string;
  /** Told where the pointer is, and when it has left. */
  seen?: (time: number | null) => void;
}

/** What somebody has hidden or zoomed into in one panel: it stays while the panel is drawn anew. */
export class View {
  hidden = new Set<string>();
  zoom: [number, number] | null = null;
}

const finite = (value: number | null | undefined): value is number => value != null && Number.isFinite(value);

/** Curves one upon the other: each from the top of those below it. */
function stacked(series: Series[], shares: boolean): { low: number[]; high: number[]; of: Series }[] {
  const times = series[0]?.times ?? [],
    low = new Array<number>(times.length).fill(0);
  const totals = Array.from({ length: times.length }, (_, k) => series.reduce((sum, one) => sum + Math.abs(one.values[k] ?? 0), 0));
  return series.map(of => {
    const from = [...low];
    for (let k = 0; k < times.length; k++) low[k] = low[k]! + ((of.values[k] ?? 0) / (shares ? totals[k] || 1 : 1)) * (shares ? 100 : 1);
    return { low: from, high: [...low], of };
  });
}

/** Inflows upwards and outflows downwards from zero. */
function balance(series: Series[]): { low: number[]; high: number[]; of: Series }[] {
  const times = series[0]?.times ?? [],
    up = new Array<number>(times.length).fill(0),
    down = new Array<number>(times.length).fill(0);
  return series.map(of => {
    const low: number[] = [],
      high: number[] = [];
    for (let k = 0; k < times.length; k++) {
      const value = of.values[k] ?? 0,
        side = value >= 0 ? up : down;
      low.push(side[k]!);
      side[k] = side[k]! + value;
      high.push(side[k]!);
    }
    return { low, high, of };
  });
}

function drawArea(at: Frame, times: ArrayLike<number>, low: number[], high: number[], className: string): void {
  const shape = area<number>()
    .x(k => at.x(times[k]!))
    .y0(k => at.y(low[k]!))
    .y1(k => at.y(high[k]!))
    .digits(1);
  at.plot.append(svg('path', { d: shape(Array.from({ length: times.length }, (_, k) => k)) ?? '', class: className, stroke: 'none' }));
}

export function drawPlot(
  place: HTMLElement,
  plot: Plot,
  view: View,
  redraw: () => void,
  size: { width: number; height: number },
  signed = false,
): void {
  const shown = plot.series.filter(one => !view.hidden.has(one.id));
  const bands = (plot.bands ?? []).filter(band => !view.hidden.has(band.id ?? ''));
  // What is stacked stands on one axis; what lies over the stack may have one of its own.
  const second = shown.filter(one => one.second && (one.over || !plot.shape || plot.shape === 'Lines'));
  let main = shown.filter(one => !second.includes(one));
  if (plot.shape === 'Sum' && main.length > 0) {
    const named = main.filter(one => !one.behind && !one.over),
      first = named[0] ?? main[0]!;
    main = [
      {
        ...first,
        id: 'sum',
        name: named.length > 3 ? 'sum' : named.map(one => one.name).join(' + '),
        values: Array.from({ length: first.times.length }, (_, k) => named.reduce((sum, one) => sum + (one.values[k] ?? 0), 0)),
      },
    ];
  }
  const layers =
    plot.shape === 'Stacked' || plot.shape === 'Shares'
      ? signed
        ? balance(main)
        : stacked(
            main.filter(one => !one.behind && !one.over),
            plot.shape === 'Shares',
          )
      : [];
  // Of a stack in percent the others have no part.
  const lines = !layers.length ? main : plot.shape === 'Stacked' && !signed ? main.filter(one => one.over) : [];
  const xs = plot.series.flatMap(one => [one.times[0], one.times[one.times.length - 1]]).filter(finite);
  const domain: [number, number] = view.zoom ?? plot.domain ?? (xs.length ? [Math.min(...xs), Math.max(...xs)] : [0, 1]);
  const range = (all: Iterable<number | null | undefined>[]): [number, number, number] => {
    let low = Infinity,
      high = -Infinity,
      least = Infinity;
    for (const values of all)
      for (const value of values) {
        if (!finite(value)) continue;
        if (value < low) low = value;
        if (value > high) high = value;
        if (value > 0 && value < least) least = value;
      }
    return [low, high, least];
  };
  const within = (one: Series): (number | null | undefined)[] =>
    Array.from({ length: one.times.length }, (_, k) => (one.times[k]! >= domain[0] && one.times[k]! <= domain[1] ? one.values[k] : null));
  const [low, high, least] = layers.length
    ? range(layers.flatMap(layer => [layer.low, layer.high]))
    : range([...main.map(within), (plot.points ?? []).map(point => point.value), ...bands.flatMap(band => [band.low, band.high])]);
  const log = plot.log === true && !layers.length && high > 0;
  const max = plot.maximum ?? (layers.length && plot.shape === 'Shares' ? 100 : high > -Infinity ? high : 1);
  const min = plot.minimum ?? (log ? Math.max(least, max / 1e6) : low < -1e-6 * Math.abs(high) ? low : 0);
  const [low2, high2] = range(second.map(within));
  const at = frame({
    width: Math.max(260, size.width),
    height: Math.max(140, size.height),
    xDomain: domain,
    yMax: max,
    yMin: log && !(min > 0) ? max / 1e6 : min,
    xUnit: plot.xUnit,
    ...(plot.time ? { time: true } : {}),
    yTitle: plot.shape === 'Shares' ? 'percent of their total' : plot.yTitle,
    label: plot.label,
    log,
    ...(second.length
      ? { second: { max: high2 > -Infinity ? high2 : 1, min: low2 < 0 ? low2 : 0, title: plot.secondTitle ?? '' }, rightMargin: 112 }
      : {}),
  });
  const place2 = second.length ? { ...at, y: at.y2! } : at;
  // What is nothing lies at the foot of a logarithmic axis.
  const above = (values: number[]): number[] => (log ? values.map(value => Math.max(value, at.y.domain()[0]!)) : values);
  for (const band of bands) drawArea(at, band.times, above(band.low), above(band.high), band.className);
  for (const strand of plot.strands ?? [])
    if (!view.hidden.has(strand.id)) drawLine(at, strand.times, above(strand.values), strand.className);
  for (const layer of layers) drawArea(at, layer.of.times, layer.low, layer.high, `layer ${layer.of.className}`);
  const positive = (one: Series): Samples =>
    log ? Array.from({ length: one.times.length }, (_, k) => ((one.values[k] ?? 0) > 0 ? one.values[k]! : null)) : one.values;
  const drawn = new Map<Series, SVGElement>();
  for (const one of lines) drawn.set(one, drawLine(at, one.times, positive(one), `line ${one.className}${one.behind ? ' before' : ''}`));
  for (const one of second) drawn.set(one, drawLine(place2, one.times, one.values, `line on-second ${one.className}`));
  if (plot.points) drawPoints(at, plot.points, 'stroke-ink', leave);
  const toggle = (id: string): void => {
    if (!view.hidden.delete(id)) view.hidden.add(id);
    redraw();
  };
  const named = [...main.filter(one => !one.behind), ...second];
  drawEndNames(
    at,
    named.map(one => {
      const layer = layers.find(candidate => candidate.of === one);
      const last = layer
        ? 0.5 * ((layer.low.at(-1) ?? 0) + (layer.high.at(-1) ?? 0))
        : valueAt(one.times, one.values, Math.min(domain[1], one.times[one.times.length - 1] ?? domain[1]));
      const scale = one.second && at.y2 ? at.y2 : at.y,
        y = scale(log && !(last! > 0) ? min : (last ?? 0));
      return {
        text: one.name,
        y: Number.isFinite(y) ? y : at.bottom,
        className: one.className,
        curve: drawn.get(one),
        hint: `Hide ${one.name}`,
        onPick: () => toggle(one.id),
      };
    }),
    second.length ? 44 : 0,
  );
  attachHover(
    at,
    time => (plot.time ? timeName(time, plot.xName) : `${plot.xName} ${amount(time)}`),
    time =>
      [...main, ...second].map(one => ({
        name: one.name,
        value: measured(valueAt(one.times, one.values, time), one.unit ?? ''),
        className: one.className,
      })),
    plot.seen,
  );
  attachPick(at, {
    onPick: () => {
      /* Nothing follows a picked time here. */
    },
    onZoom: (from, to) => {
      view.zoom = [from, to];
      redraw();
    },
    onReset: () => {
      view.zoom = null;
      redraw();
    },
  });
  if (plot.words) drawWords(at, plot.words);
  place.replaceChildren(at.root);
  const gone = plot.series.filter(one => view.hidden.has(one.id));
  if (gone.length) {
    const list = document.createElement('p');
    list.className = 'hidden-names quiet text-xs';
    list.append(
      'hidden: ',
      ...gone.map(one => {
        const button = document.createElement('button');
        button.type = 'button';
        button.className = `plain ${one.className}`;
        button.textContent = one.name;
        button.setAttribute('aria-label', `Show ${one.name}`);
        button.addEventListener('click', () => toggle(one.id));
        return button;
      }),
    );
    place.append(list);
  }
}
