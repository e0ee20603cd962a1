// How one number of exposure spreads over subjects: a histogram for each plan, on one scale.
import { bin } from 'd3-array';
import { frame } from '../chart/frame';
import { attachHover } from '../chart/hover';
import { amount } from '../chart/numbers';
import { svg } from '../chart/svg';

const height = 150,
  bins = 18;

export function drawSpread(plans: { name: string; values: number[] }[], title: string, width: number): SVGSVGElement[] {
  const all = plans.flatMap(({ values }) => values),
    low = Math.min(...all),
    high = Math.max(...all);
  if (all.length === 0 || !(high > low)) return [];
  const split = bin().domain([low, high]).thresholds(bins);
  const counted = plans.map(({ name, values }) => ({ name, of: values.length, bars: split(values) })),
    most = Math.max(...counted.flatMap(({ bars, of }) => bars.map(bar => bar.length / of)));
  return counted.map(({ name, of, bars }, place) => {
    const at = frame({
      width,
      height,
      xDomain: [bars[0]!.x0!, bars[bars.length - 1]!.x1!],
      yMax: most,
      xUnit: title,
      yTitle: `share of subjects${plans.length > 1 ? `, ${name}` : ''}`,
      label: `${title} over ${of} subjects, ${name}`,
      rightMargin: 24,
    });
    for (const bar of bars)
      at.plot.append(
        svg('rect', {
          x: at.x(bar.x0 ?? low) + 0.5,
          width: Math.max(1, at.x(bar.x1 ?? high) - at.x(bar.x0 ?? low) - 1),
          y: at.y(bar.length / of),
          height: Math.max(0, at.bottom - at.y(bar.length / of)),
          class: `fill-(--hue) opacity-60 hue-s${place}`,
        }),
      );
    attachHover(
      at,
      value => `${title} ${amount(value)}`,
      value => {
        const bar = bars.find(one => value >= one.x0! && value <= one.x1!),
          below = bars.filter(one => one.x1! <= value).reduce((sum, one) => sum + one.length, 0);
        return bar
          ? [
              { name: `${amount(bar.x0)} to ${amount(bar.x1)}`, value: `${bar.length} of ${of}`, className: '' },
              { name: 'below', value: `${Math.round((100 * below) / of)} %`, className: '' },
            ]
          : [];
      },
    );
    return at.root;
  });
}
