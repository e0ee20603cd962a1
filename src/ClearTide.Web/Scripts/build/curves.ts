// The curves of a run with the run before it faint behind, and the observed quantity in a panel of its own below.
import { drawWords } from '../chart/words';
import { timeName } from '../chart/calendar';
import { frame, type Frame } from '../chart/frame';
import { attachHover } from '../chart/hover';
import { choiceButtons } from '../chart/choices';
import { attachPick } from '../chart/pick';
import { drawEndNames, drawLine, drawPoints, valueAt } from '../chart/marks';
import { measured } from '../chart/numbers';
import { svg } from '../chart/svg';
import type { Fan } from './chance';
import { drawDoses } from './doses';
import { drawFan } from './fan';
import { dragCursor, type TimeCursor } from './cursor';
import { pointsOf, seenAt } from '../chart/points';
import { areResiduals, asResiduals, startResiduals } from '../chart/residuals';
import { post } from './post';
import { ofMember, panes, type Pane } from './members';
import type { Curve, Observed, Run } from './run';

/** A point of data that is clicked is left out of fits, or taken back. */
const leave = (observation: string, row: number): void => void post('Point', { observation, row });

const draws = 8,
  many = 24;

export class Curves {
  private hidden = new Set<string>();
  private zoom: [number, number] | null = null;
  private run: Run | null = null;
  private before: Run[] = [];
  /** What chance makes of the curves; null where it is not shown, or not there yet. */
  private fan: Fan | null = null;
  private unit = '';
  /** The series that the lower panel shows. */
  private observing = '';
  private frames: Frame[] = [];
  /** What each chart of amounts shows. */
  private runs = new Map<Frame, Run>();
  /** Sizes of the two panels, kept so that nothing has to be laid out to know them. */
  private sizes = new Map<Element, { width: number; height: number }>();

  constructor(
    private main: HTMLElement,
    private observed: HTMLElement,
    private hiddenList: HTMLElement,
    private residuals: HTMLElement,
    private cursor: TimeCursor,
  ) {
    cursor.onMove(() => this.drawCursor());
    document.addEventListener('dates-changed', () => this.draw());
    startResiduals(this.residuals.parentElement!, () => this.draw());
    const watch = new ResizeObserver(entries => {
      for (const entry of entries) this.sizes.set(entry.target, entry.contentRect);
      this.draw();
    });
    watch.observe(main);
    watch.observe(observed);
  }

  show(run: Run, changed: boolean): void {
    if (changed && this.run?.times.length) {
      // Earlier draws of one model stay faint together; any other edit leaves the run before it alone.
      const drawn = run.random && this.run.seed !== run.seed;
      this.before = drawn ? [...this.before.filter(other => other.seed !== this.run!.seed), this.run].slice(-draws) : [this.run];
    }
    this.run = run;
    if (this.zoom && (this.zoom[0] < run.start || this.zoom[1] > run.end)) this.zoom = null;
    this.draw();
  }

  /** Shows what chance makes of the curves, or no more of it. */
  showFan(fan: Fan | null): void {
    if (!fan && !this.fan) return;
    this.fan = fan;
    this.draw();
  }

  private sizeOf(panel: HTMLElement): { width: number; height: number } {
    const known = this.sizes.get(panel);
    return known && known.width > 0 ? known : panel.getBoundingClientRect();
  }

  private draw(): void {
    const run = this.run;
    if (!run) return;
    this.frames = [];
    this.runs.clear();
    const below = this.below(run);
    this.residuals.hidden = run.observed.length === 0;
    this.observed.hidden = below.length === 0;
    const words = document.createElement('p');
    words.className = run.failure
      ? 'run-failure my-8 mx-20 py-8 px-12 border-l-3 border-l-coral bg-coral-soft max-w-[56em]'
      : 'empty text-mute max-w-[44em]';
    words.textContent = run.failure ?? 'Curves appear here as soon as there is a compartment.';
    if (run.times.length === 0) this.main.replaceChildren(words);
    else this.drawPanes(run, run.failure ? words : null);
    if (below.length) this.drawObserved(run, below);
    this.drawCursor(true);
  }

  /** One chart, or of a split model one for each member, side by side on one scale.
   * @param failure Why the run stopped short, shown over the curves of what there was before. */
  private drawPanes(run: Run, failure: HTMLElement | null): void {
    const all = panes(run);
    this.main.replaceChildren(...(failure ? [failure] : []));
    const box = this.sizeOf(this.main);
    const width = box.width / all.length;
    const top = Math.max(...all.map(pane => this.topOf(pane.run)));
    for (const [k, pane] of all.entries())
      this.drawMain(pane.run, failure, { ...pane, left: k * width, width, height: box.height, top, isFirst: k === 0 });
  }

  /** The most that any curve reaches of those that are shown. */
  private topOf(run: Run): number {
    let top = 0;
    for (const curve of this.shownOf(run)) for (const value of curve.values) if (value > top) top = value;
    return top;
  }

  private drawMain(run: Run, failure: HTMLElement | null, pane: Pane): void {
    const amounts = run.curves.filter(curve => curve.kind === 'compartment');
    // One unit, one axis: amounts in another unit are shown in its place.
    const units = [...new Set(amounts.map(curve => curve.unit))];
    if (!units.includes(this.unit)) this.unit = units[0] ?? '';
    this.listUnits(units);
    const all = amounts.filter(curve => curve.unit === this.unit);
    const shown = all.filter(curve => !this.hidden.has(curve.id));
    let top = pane.top,
      lowest = 0;
    for (const curve of shown) {
      for (const value of curve.values) {
        if (value > top) top = value;
        if (value < lowest) lowest = value;
      }
    }
    for (const curve of shown) for (const value of this.fan?.bands[curve.id]?.p95 ?? []) top = Math.max(top, value);
    const seen = run.observed.filter(one => shown.some(curve => curve.id === one.curve));
    for (const point of seen.flatMap(one => one.points)) {
      top = Math.max(top, point.value + (point.error ?? 0));
      lowest = Math.min(lowest, point.value);
    }
    // What lies below zero by the solver's own error is no reason for a scale that goes there.
    const low = lowest > -1e-6 * top ? 0 : lowest;
    const names = shown.map(curve => curve.symbol).join(', ');
    const above = failure ? failure.getBoundingClientRect().height + 16 : 0;
    const at = frame({
      width: Math.max(pane.title ? 120 : 320, pane.width),
      height: Math.max(120, pane.height - above),
      xDomain: this.zoom ?? [run.start, run.end],
      yMax: top,
      yMin: low,
      xUnit: `${run.unit}s`,
      time: true,
      yTitle: pane.title || this.unit,
      titleRight: true,
      label: `${pane.title ? `${pane.title}: ` : ''}Run from ${run.start} to ${run.end} ${run.unit}s: ${names}`,
    });
    // Of many curves the new ones are shown first; those before them and the marks at the cursor come with the next frame.
    if (shown.length <= many) this.drawBefore(at, shown, pane.symbol);
    else
      requestAnimationFrame(() =>
        setTimeout(() => {
          if (!this.frames.includes(at)) return;
          this.drawBefore(at, shown, pane.symbol);
          this.drawDots(at);
        }),
      );
    drawFan(at, this.fan, shown);
    const drawn = shown.map(curve =>
      drawLine(at, run.times, curve.values, `line hue-c${curve.colour}${curve.provisional ? ' provisional' : ''}`),
    );
    for (const one of seen) drawPoints(at, pointsOf(one), `hue-c${shown.find(curve => curve.id === one.curve)!.colour}`, leave);
    const last = run.times[run.times.length - 1]!;
    if (failure)
      at.plot.append(
        svg('line', { x1: at.x(last), x2: at.x(last), y1: at.top, y2: at.bottom, class: 'stroke-coral [stroke-dasharray:3_3]' }),
      );
    const edge = Math.min(this.zoom?.[1] ?? run.end, last);
    drawEndNames(
      at,
      shown.map((curve, k) => ({
        text: curve.symbol,
        curve: drawn[k]!,
        y: at.y(valueAt(run.times, curve.values, edge) ?? 0),
        className: `symbol [font:italic_600_14px_var(--font-print)]! hue-c${curve.colour}`,
        hint: `Hide ${curve.symbol}`,
        onPick: () => this.toggle(curve),
      })),
    );
    attachHover(
      at,
      time => timeName(time, run.unit),
      time =>
        shown
          .map(curve => ({ curve, value: valueAt(run.times, curve.values, time) }))
          .sort(shown.length > many ? (a, b) => (b.value ?? 0) - (a.value ?? 0) : () => 0)
          .map(({ curve, value }) => ({ name: curve.symbol, value: measured(value, curve.unit), className: `hue-c${curve.colour}` })),
    );
    drawDoses(at, run);
    if (run.remark && pane.isFirst) drawWords(at, run.remark);
    this.attach(at);
    if (pane.left > 0) {
      at.root.style.left = `${pane.left}px`;
      at.root.style.right = 'auto';
    }
    this.main.append(at.root);
    this.frames.push(at);
    this.runs.set(at, run);
    this.listHidden(all.filter(curve => this.hidden.has(curve.id)));
  }

  /** Runs before this one, faint and behind its curves. */
  private drawBefore(at: Frame, shown: Curve[], symbol: string): void {
    const first = at.plot.firstChild;
    for (const before of this.before) {
      const byId = new Map((symbol ? ofMember(before, symbol) : before).curves.map(curve => [curve.id, curve]));
      for (const curve of shown) {
        const old = byId.get(curve.id);
        if (old) at.plot.insertBefore(drawLine(at, before.times, old.values, `line before hue-c${curve.colour}`), first);
      }
    }
  }

  /** The series that lie on no curve of the upper panel; of residuals all. */
  private below(run: Run): Observed[] {
    if (areResiduals()) return run.observed.filter(one => one.points.length > 0).map(asResiduals);
    return run.observed.filter(
      one => !run.curves.some(curve => curve.id === one.curve && curve.kind === 'compartment' && !this.hidden.has(curve.id)),
    );
  }

  private drawObserved(run: Run, below: Observed[]): void {
    const observed = below.find(one => one.id === this.observing) ?? below[0]!;
    const box = this.sizeOf(this.observed);
    const points = pointsOf(observed);
    const top = Math.max(...points.map(point => point.value + (point.error ?? 0)), ...observed.expected.map(value => value ?? 0));
    const low = Math.min(0, ...points.map(point => point.value - (areResiduals() ? (point.error ?? 0) : 0)));
    const at = frame({
      width: Math.max(320, box.width),
      height: Math.max(90, box.height),
      xDomain: this.zoom ?? [run.start, run.end],
      yMax: observed.counted ? Math.max(1, top) : top,
      yMin: low,
      xUnit: `${run.unit}s`,
      time: true,
      yTitle: observed.axis,
      label: `${observed.label}: ${points.length} observed values and what the model expects`,
    });
    drawLine(at, observed.times, observed.expected, 'line stroke-ink stroke-[1.6]');
    drawPoints(at, points, 'stroke-ink', leave);
    const edge = this.zoom?.[1] ?? run.end;
    drawEndNames(at, [
      { text: 'expected', y: at.y(valueAt(observed.times, observed.expected, edge) ?? 0), className: 'font-normal! cursor-default!' },
    ]);
    if (observed.problem) drawWords(at, observed.problem);
    attachHover(
      at,
      time => timeName(time, run.unit),
      time => [
        { name: 'expected', value: measured(valueAt(observed.times, observed.expected, time), observed.seenIn), className: '' },
        {
          name: areResiduals() ? 'observed minus expected' : 'observed',
          value: seenAt(observed.points, time, observed.seenIn),
          className: '',
        },
      ],
    );
    this.attach(at);
    this.observed.replaceChildren(at.root, ...this.choices(below, observed));
    this.frames.push(at);
  }

  /** Names of the series that the lower panel can show, where there are several. */
  private choices(below: Observed[], chosen: Observed): HTMLElement[] {
    if (below.length < 2) return [];
    const list = document.createElement('div');
    list.className = 'absolute top-0 right-8 flex gap-10';
    list.setAttribute('role', 'group');
    list.setAttribute('aria-label', 'Observed series');
    list.append(
      ...choiceButtons(
        below,
        one => one.label,
        chosen,
        one => {
          this.observing = one.id;
          this.draw();
          this.observed.querySelector<HTMLElement>('[aria-pressed=true]')?.focus();
        },
      ),
    );
    return [list];
  }

  private attach(at: Frame): void {
    attachPick(at, {
      onPick: time => this.cursor.move(time),
      onZoom: (from, to) => {
        this.zoom = [from, to];
        this.draw();
      },
      onReset: () => {
        this.zoom = null;
        this.draw();
      },
    });
  }

  private listUnits(units: string[]): void {
    const place = document.getElementById('curve-units');
    place?.replaceChildren(
      ...(units.length < 2
        ? []
        : choiceButtons(
            units,
            unit => unit || 'no unit',
            this.unit,
            unit => {
              this.unit = unit;
              this.draw();
            },
          )),
    );
  }

  private toggle(curve: Curve): void {
    if (!this.hidden.delete(curve.id)) this.hidden.add(curve.id);
    this.draw();
  }

  private listHidden(curves: Curve[]): void {
    this.hiddenList.replaceChildren(
      ...(curves.length ? ['hidden: '] : []),
      ...curves.map(curve => {
        const button = document.createElement('button');
        button.type = 'button';
        button.className = `plain hue-c${curve.colour}`;
        button.textContent = curve.symbol;
        button.setAttribute('aria-label', `Show ${curve.symbol}`);
        button.addEventListener('click', () => this.toggle(curve));
        return button;
      }),
    );
  }

  /** @param drawing Whether the curves are being drawn as well. */
  private drawCursor(drawing = false): void {
    const run = this.run;
    for (const at of this.frames) {
      at.root.querySelector('.cursor')?.remove();
      const x = at.x(this.cursor.time);
      if (!run || x < at.left || x > at.right) continue;
      const group = svg(
        'g',
        { class: 'cursor pointer-events-none [&>line]:stroke-ink' },
        svg('line', { x1: x, x2: x, y1: at.top - 4, y2: at.bottom }),
      );
      if (at === this.frames[0]) {
        const text = timeName(this.cursor.time, run.unit);
        const width = 14 + 6.6 * text.length,
          middle = Math.min(Math.max(x, width / 2), Number(at.root.getAttribute('width')) - width / 2);
        const flag = svg(
          'g',
          { class: 'cursor-flag cursor-ew-resize pointer-events-auto [&_rect]:fill-ink [&_text]:fill-paper' },
          svg('rect', { x: middle - width / 2, y: 0, width, height: 16, rx: 3 }),
          svg('text', { x: middle, y: 12, 'text-anchor': 'middle' }, text),
        );
        flag.addEventListener('pointerdown', event => dragCursor(event, at, this.cursor));
        group.append(flag);
      }
      at.root.append(group);
      if (this.runs.has(at) && !(drawing && this.shownOf(run).length > many)) this.drawDots(at);
    }
  }

  /** Marks where the curves pass the cursor. */
  private drawDots(at: Frame): void {
    const group = at.root.querySelector('.cursor'),
      run = this.runs.get(at);
    if (!run || !group) return;
    const x = at.x(this.cursor.time);
    for (const curve of this.shownOf(run)) {
      const value = valueAt(run.times, curve.values, this.cursor.time);
      if (value !== null)
        group.append(svg('circle', { cx: x, cy: at.y(value), r: 3, class: `dot-mark stroke-sheet hue-c${curve.colour}` }));
    }
  }

  /** Amounts in the unit that is shown, without those that are hidden. */
  private shownOf(run: Run): Curve[] {
    return run.curves.filter(curve => curve.kind === 'compartment' && curve.unit === this.unit && !this.hidden.has(curve.id));
  }
}
