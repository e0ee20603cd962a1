// What an outcome comes to against a setting of a measure, with the limit; and the share of runs by chance that keep it. Over two settings
// a map of what it costs, or else of the outcome or the share, pale where the limit is not kept.
import { frame, type Frame } from '../chart/frame';
import { attachHover } from '../chart/hover';
import { drawEndNames, drawLine, valueAt } from '../chart/marks';
import { map } from '../chart/map';
import { amount } from '../chart/numbers';
import { svg } from '../chart/svg';

interface Search {
  settings: number[];
  outcomes: (number | null)[];
  shares: number[] | null;
  limit: number;
  wanted: number;
  best: number | null;
  name: string;
  outcome: string;
  /** Of two settings: numbers of both, row by row of the second; whether each pair keeps the limit, and which is the answer. */
  pairs: {
    first: number[];
    second: number[];
    values: (number | null)[];
    kept: boolean[];
    best: number | null;
    names: [string, string];
    title: string;
  } | null;
}

const height = 170,
  level = 'stroke-coral [stroke-dasharray:4_3]';

function mark(at: Frame, y: number, best: number | null): void {
  at.plot.append(svg('line', { x1: at.left, x2: at.right, y1: at.y(y), y2: at.y(y), class: level }));
  if (best !== null)
    at.plot.append(svg('line', { x1: at.x(best), x2: at.x(best), y1: at.top, y2: at.bottom, class: 'stroke-tide stroke-[1.4]' }));
}

export function drawSearch(): void {
  const place = document.getElementById('search-chart'),
    source = document.getElementById('search-data');
  if (!place || !source || place.firstChild) return;
  const data = JSON.parse(source.textContent ?? '{}') as Partial<Search>;
  const pairs = data.pairs;
  if (pairs) {
    const width = Math.max(280, place.getBoundingClientRect().width);
    place.append(map({ ...pairs, width, height: 260, pale: k => !pairs.kept[k], framed: pairs.best }));
    return;
  }
  if (!data.settings || data.settings.length < 2) return;
  const { settings, outcomes, shares, limit, wanted, best, name, outcome } = data as Search,
    width = Math.max(280, place.getBoundingClientRect().width),
    known = outcomes.filter((one): one is number => one !== null);
  const xDomain: [number, number] = [settings[0]!, settings[settings.length - 1]!];
  const above = frame({
    width,
    height,
    xDomain,
    yMax: Math.max(limit, ...known),
    yMin: Math.min(0, ...known),
    xUnit: name,
    yTitle: `${outcome}, without chance`,
    label: `${outcome} against the ${name} of the measure`,
  });
  mark(above, limit, best);
  drawLine(above, settings, outcomes, 'line stroke-ink stroke-[1.8]');
  drawEndNames(above, [{ text: 'limit', y: above.y(limit), className: 'font-normal! cursor-default! fill-coral' }]);
  attachHover(
    above,
    value => `${name} ${amount(value)}`,
    value => [{ name: outcome, value: amount(valueAt(settings, outcomes, value)), className: '' }],
  );
  place.append(above.root);
  if (!shares) return;
  const below = frame({
    width,
    height: 130,
    xDomain,
    yMax: 1,
    xUnit: name,
    yTitle: 'share of runs at or below the limit',
    label: `share of runs at or below the limit against the ${name} of the measure`,
  });
  mark(below, wanted, best);
  drawLine(below, settings, shares, 'line stroke-ink stroke-[1.8]');
  attachHover(
    below,
    value => `${name} ${amount(value)}`,
    value => [{ name: 'keep it', value: `${Math.round(100 * (valueAt(settings, shares, value) ?? 0))} %`, className: '' }],
  );
  place.append(below.root);
}
