// Curves of many subjects: bands, a few of them as lines, the target, what was observed, and the doses below.
import { timeName } from '../chart/calendar';
import { frame, type Frame } from '../chart/frame';
import { attachHover } from '../chart/hover';
import { drawBand, drawEndNames, drawLine, drawPoints, valueAt, type Point } from '../chart/marks';
import { amount } from '../chart/numbers';
import { svg } from '../chart/svg';
import { colourOf } from '../chart/colours';
import { drawSpread } from './spread';

interface Plan {
  name: string;
  /** Numbers of exposure by their names, subject by subject. */
  exposures: Record<string, number[]>;
  /** 5, 50 and 95% at each time. */
  bands: [number[], number[], number[]];
  /** Of each subject the value that they are ordered by, and its trough; null where all are alike. */
  dots: [number, number][] | null;
}

interface Picture {
  unit: string;
  label: string;
  yTitle: string;
  times: number[];
  window: [number, number];
  low: number | null;
  high: number | null;
  /** The value that single subjects are ordered by. */
  by: string | null;
  plans: Plan[];
  lines: { values: number[]; shade: number; name: string; words: string; end: string }[];
  points: Point[];
  /** Time, amount and duration. */
  doses: [number, number, number][];
}

const plansShown = 4;

/** How the picture is looked at: kept while the page is open in the browser. */
const kept = 'clear-tide subjects ';
const look = (name: string): string => sessionStorage.getItem(kept + name) ?? '';

/** Shows how it is looked at on the switches, which each answer of the server brings anew. */
function markLook(): void {
  for (const field of document.querySelectorAll<HTMLInputElement | HTMLSelectElement>('[data-subject-look]')) {
    const value = look(field.dataset.subjectLook!);
    if (field instanceof HTMLInputElement) field.checked = value === 'true';
    else field.value = value;
  }
}

/** The room that the target leaves: a sheet behind everything, and its ends by name. */
function drawTarget(at: Frame, { low, high }: Picture): void {
  if (low === null && high === null) return;
  const top = high === null ? at.top : Math.max(at.top, at.y(high)),
    bottom = low === null ? at.bottom : Math.min(at.bottom, at.y(low));
  at.plot.append(
    svg('rect', { x: at.left, width: at.right - at.left, y: top, height: Math.max(0, bottom - top), class: 'fill-tide/7' }),
    svg('text', { x: at.right - 8, y: top + 14, 'text-anchor': 'end', class: 'text-xs fill-tide' }, 'target'),
  );
  for (const end of [low, high])
    if (end !== null)
      at.plot.append(svg('line', { x1: at.left, x2: at.right, y1: at.y(end), y2: at.y(end), class: 'stroke-tide/60 stroke-[1.2]' }));
}

/** Marks where doses are given, with the amount where it changes; one that goes in for a while is as long as that. */
function drawDoses({ doses, times, unit }: Picture, width: number): SVGSVGElement | string {
  if (doses.length === 0) return '';
  const height = 46,
    most = Math.max(...doses.map(([, given]) => given)) || 1,
    at = { left: 58, right: width - 74, base: height - 12 },
    x = (time: number): number => at.left + ((time - times[0]!) / (times[times.length - 1]! - times[0]!)) * (at.right - at.left);
  const root = svg('svg', {
    width,
    height,
    viewBox: `0 0 ${width} ${height}`,
    role: 'img',
    'aria-label': `doses: ${doses.length} within the span`,
    class: 'block max-w-full',
  });
  root.append(
    svg('line', { x1: at.left, x2: at.right, y1: at.base, y2: at.base, class: 'stroke-line' }),
    svg('text', { x: at.left - 8, y: at.base, 'text-anchor': 'end', class: 'text-xs fill-mute' }, 'doses'),
  );
  doses.forEach(([time, given, duration], k) => {
    const high = Math.max(4, (20 * given) / most),
      mark = svg('rect', {
        x: x(time) - (duration > 0 ? 0 : 1.5),
        width: Math.max(3, x(time + duration) - x(time)),
        y: at.base - high,
        height: high,
        class: 'fill-ink/70',
      });
    mark.append(svg('title', {}, `${amount(given)} at ${timeName(time, unit)}`));
    root.append(mark);
    if (given !== doses[k - 1]?.[1])
      root.append(svg('text', { x: x(time) + 5, y: at.base - high + 8, class: 'text-xs fill-mute' }, amount(given)));
  });
  return root;
}

/** The median at a time, and in brackets from where to where the band goes: a band's curves are its low one, the middle, its high one. */
function bandAt(bands: number[][], times: number[], time: number): string {
  const [low, middle, high] = bands.map(values => amount(valueAt(times, values, time)));
  return `${middle} (${low} to ${high})`;
}

function drawCurves(data: Picture, width: number, height: number): SVGSVGElement {
  const { times, plans, lines, unit } = data,
    shown = plans.slice(0, plansShown);
  const highest = Math.max(
    ...shown.flatMap(({ bands }) => bands[2]),
    ...lines.flatMap(({ values }) => values),
    ...data.points.map(({ value }) => value),
    data.high ?? 0,
    1e-12,
  );
  const log = look('log') === 'true',
    [from, until] = look('last') === 'true' ? data.window : [times[0]!, times[times.length - 1]!];
  // In equal ratios the axis goes down to what is above zero, a ten-thousandth of the highest at least.
  const above = shown
    .flatMap(({ bands }) => bands[0].filter((_, k) => times[k]! >= from && times[k]! <= until))
    .filter(value => value > highest / 1e4);
  const floor = log ? Math.min(highest / 10, ...above) : Math.min(0, ...shown.flatMap(({ bands }) => bands[0]));
  // What is at or below zero lies on the floor of an axis that has no zero.
  const raised = (values: number[]): number[] => (log ? values.map(value => Math.max(value, floor)) : values);
  const at = frame({
    width,
    height,
    xDomain: [from, until],
    yMax: highest,
    yMin: floor,
    log,
    xUnit: `${unit}s`,
    time: true,
    yTitle: data.yTitle,
    label: `${data.label}: ${plans.length === 1 ? '' : `${plans.length} plans, `}5, 50 and 95 % of subjects`,
  });
  drawTarget(at, data);
  shown.forEach(({ bands }, k) => {
    drawBand(at, times, raised(bands[0]), raised(bands[2]), `band outer hue-s${k}`);
    for (const edge of [bands[0], bands[2]]) drawLine(at, times, raised(edge), `line stroke-1 opacity-60 hue-s${k}`);
  });
  const drawn = lines.map(one => drawLine(at, times, raised(one.values), `line stroke-[1.2] ${colourOf(one.shade, lines.length)}`));
  const medians = shown.map(({ bands }, k) => drawLine(at, times, raised(bands[1]), `line stroke-2 hue-s${k}`));
  drawPoints(
    at,
    data.points.filter(({ value }) => !log || value >= floor),
    'stroke-ink',
  );
  const last = (values: number[]): number => at.y(raised(values)[values.length - 1]!);
  drawEndNames(
    at,
    plans.length > 1
      ? shown.map(({ name, bands }, k) => ({
          text: name,
          y: last(bands[1]),
          className: `hue-s${k}`,
          curve: medians[k]!,
        }))
      : lines.flatMap((one, k) =>
          one.end
            ? [{ text: `${one.end}`, y: last(one.values), className: 'font-normal! fill-mute', hint: one.words, curve: drawn[k]! }]
            : [],
        ),
  );
  attachHover(
    at,
    time => timeName(time, unit),
    time => [
      ...shown.flatMap(({ name, bands }) => [
        {
          name: plans.length > 1 ? name : 'median',
          value: bandAt(bands, times, time),
          className: '',
        },
      ]),
      ...lines.map(one => ({ name: one.words || one.name, value: amount(valueAt(times, one.values, time)), className: '' })),
    ],
  );
  return at.root;
}

/** The trough of each subject against the value that they are ordered by. */
function drawDots(data: Picture, plan: Plan, place: number, width: number): SVGSVGElement | null {
  const dots = plan.dots;
  if (!dots || dots.length < 2 || !data.by) return null;
  const xs = dots.map(([x]) => x),
    all = data.plans.flatMap(one => (one.dots ?? []).map(([, y]) => y));
  const at = frame({
    width,
    height: 170,
    xDomain: [Math.min(...xs), Math.max(...xs)],
    yMax: Math.max(...all, data.high ?? 0),
    xUnit: data.by,
    yTitle: `trough${data.plans.length > 1 ? `, ${plan.name}` : ''}`,
    label: `trough against ${data.by}, ${plan.name}`,
    rightMargin: 24,
  });
  drawTarget(at, data);
  for (const [x, y] of dots)
    at.plot.append(svg('circle', { cx: at.x(x), cy: at.y(y), r: 2, class: `fill-(--hue) opacity-55 hue-s${place}` }));
  return at.root;
}

function draw(): void {
  const place = document.getElementById('subject-chart'),
    source = document.getElementById('subject-data');
  if (!place || !source) return;
  const data = JSON.parse(source.textContent ?? '{}') as Partial<Picture>;
  if (!data.times) {
    place.replaceChildren();
    return;
  }
  const picture = data as Picture,
    width = Math.max(320, place.getBoundingClientRect().width);
  place.replaceChildren(drawCurves(picture, width, 360), look('last') === 'true' ? '' : drawDoses(picture, width));
  markLook();
  const spread = look('spread'),
    shown = picture.plans.slice(0, plansShown);
  document.getElementById('subject-spread')?.replaceChildren(
    ...(spread
      ? drawSpread(
          shown.map(({ name, exposures }) => ({ name, values: exposures[spread] ?? [] })),
          spread,
          shown.length > 1 ? (width - 12) / 2 : width,
        )
      : []),
  );
  document
    .getElementById('subject-dots')
    ?.replaceChildren(...picture.plans.slice(0, plansShown).flatMap((plan, k) => drawDots(picture, plan, k, (width - 12) / 2) ?? []));
}

/** The share of subjects inside the target against a value, with the share that is wanted. */
function drawAttainment(): void {
  const place = document.getElementById('attainment-chart'),
    source = document.getElementById('attainment-data');
  if (!place || !source) return;
  const { values, shares, wanted, name } = JSON.parse(source.textContent ?? '{}') as {
    values: number[] | null;
    shares: (number | null)[];
    wanted: number;
    name: string;
  };
  if (!values) return;
  const at = frame({
    width: Math.max(320, place.getBoundingClientRect().width),
    height: 190,
    xDomain: [values[0]!, values[values.length - 1]!],
    yMax: 1,
    xUnit: name,
    yTitle: 'share inside the target throughout',
    label: `share of subjects inside the target against ${name}`,
  });
  at.plot.append(
    svg('line', { x1: at.left, x2: at.right, y1: at.y(wanted), y2: at.y(wanted), class: 'stroke-coral [stroke-dasharray:4_3]' }),
  );
  drawLine(at, values, shares, 'line stroke-ink stroke-[1.8]');
  attachHover(
    at,
    value => `${name} ${amount(value)}`,
    value => [{ name: 'inside', value: `${Math.round(100 * (valueAt(values, shares, value) ?? 0))} %`, className: '' }],
  );
  place.replaceChildren(at.root);
}

export function startSubjects(): void {
  document.addEventListener('htmx:afterSettle', draw);
  document.addEventListener('htmx:afterSettle', drawAttainment);
  document.addEventListener('dates-changed', draw);
  document.addEventListener('change', event => {
    const field = event.target as HTMLInputElement | HTMLSelectElement,
      name = field.dataset.subjectLook;
    if (!name) return;
    sessionStorage.setItem(kept + name, field instanceof HTMLInputElement ? String(field.checked) : field.value);
    draw();
  });
  // A value that is chosen is added at once.
  document.querySelector<HTMLSelectElement>('[data-apply]')?.addEventListener('change', event => {
    const select = event.target as HTMLSelectElement;
    if (select.value) select.form?.requestSubmit();
  });
}
