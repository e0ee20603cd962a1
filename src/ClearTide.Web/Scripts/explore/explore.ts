// The Explore page: panels drawn from runs, sliders that move them, kept runs beside them.
import htmx from '../page/htmx';
import { isBack } from '../page/offline';
import { patiently } from '../page/patiently';
import { number, parseExplored, settingsOf, type Explored, type PanelData, type Settings } from './data';
import { drawBudget } from './budget';
import { chanceRows, drawByChance, type ByChance } from './chance';
import { drawCurves, type Compared, type KeptShown } from './curves';
import { ChanceSwitch } from './fan';
import { follow } from './follow';
import { startKeys } from './keys';
import { drawPhase, phaseRows, type Phase } from './phase';
import { View } from './plot';
import { startResizing } from './resize';
import { areResiduals, markResiduals, startResiduals } from '../chart/residuals';
import { dataBelow, drawObserved } from './observed';
import { drawSensitivity, sensitivityRows, type Sensitivity } from './sensitivity';
import { Sliders } from './sliders';
import { drawSweep, sweepRows, type Sweep } from './sweep';
import { digitsOf, drawObservedTable, drawRows, drawTable } from './tables';
import type { PictureForm } from '../chart/take';
import { copyNumbers, take } from './take';

interface PanelState {
  view: View;
  numbers: boolean;
  menu: boolean;
  words?: string;
  placed?: string;
  drawn?: string;
  sweep?: Sweep;
  sensitivity?: Sensitivity;
  byChance?: ByChance;
  phase?: Phase;
  rows?: PanelData;
  asked?: string;
  stop?: AbortController;
}

const usual: Record<string, number> = { Sweep: 360, Phase: 340 };

/** How high a panel's picture is where nobody has chosen it. */
const usualHeight = (kind: string, explored: Explored, settings: Settings): number =>
  kind === 'Curves' && dataBelow(explored, settings).length > 0 ? 440 : (usual[kind] ?? 300);

export function startExplore(root: HTMLElement): void {
  const states = new Map<string, PanelState>();
  const keptRuns = new Map<string, Explored>();
  let text = '',
    explored: Explored | null = null,
    asked = 0,
    sizes = '',
    parsed = 0;
  const parse = (answer: string): void => {
    explored = parseExplored(answer);
    parsed++;
  };

  const state = (id: string): PanelState => {
    if (!states.has(id)) states.set(id, { view: new View(), numbers: false, menu: false });
    return states.get(id)!;
  };
  const address = (handler: string, panel: string): string =>
    `?handler=${handler}&panel=${encodeURIComponent(panel)}&set=${encodeURIComponent(sliders.text())}`;
  const kept = (): KeptShown[] =>
    [...root.querySelectorAll<HTMLElement>('.kept-run')]
      .filter(item => !item.dataset.hidden && keptRuns.has(item.dataset.run!))
      .map(item => ({
        id: item.dataset.run!,
        name: item.dataset.name!,
        colour: Number(item.dataset.colour),
        explored: keptRuns.get(item.dataset.run!)!,
      }));
  const compared = (): Compared => (root.querySelector<HTMLSelectElement>('#compare-how')?.value ?? '') as Compared;

  async function many(panel: HTMLElement, own: PanelState, handler: 'Sweep' | 'Sensitivity' | 'ByChance'): Promise<void> {
    const id = panel.dataset.panel!,
      words = panel.querySelector<HTMLElement>('.panel-words')!;
    own.stop?.abort();
    const stop = (own.stop = new AbortController());
    words.textContent = '';
    const halt = document.createElement('button');
    halt.type = 'button';
    halt.className = 'plain';
    halt.textContent = 'Stop';
    halt.addEventListener('click', () => {
      stop.abort();
      words.textContent = 'Stopped.';
    });
    try {
      const found = await follow<Sweep | Sensitivity | ByChance>(address(handler, id), stop.signal, percent =>
        words.replaceChildren(`${percent} % of the runs are done `, halt),
      );
      if (stop.signal.aborted || found === null) return;
      if (handler === 'Sweep') own.sweep = found as Sweep;
      else if (handler === 'ByChance') own.byChance = found as ByChance;
      else own.sensitivity = found as Sensitivity;
      draw(panel);
    } catch {
      if (!stop.signal.aborted) words.textContent = 'The server did not answer. Try again.';
    }
  }

  /** Asks for what a panel needs besides the run, once for each state of the model, the panel and the sliders. */
  function need(panel: HTMLElement): void {
    const id = panel.dataset.panel!,
      own = state(id),
      kind = panel.dataset.kind!;
    const beside = kept()
      .map(run => run.id)
      .join(' ');
    const stamp = root.querySelector<HTMLElement>('#explore')?.dataset.stamp,
      wanted = [stamp, panel.dataset.asks, sliders.text(), own.numbers, beside].join(' ');
    if (own.asked === wanted) return;
    own.asked = wanted;
    const bring = (handler: string, put: (text: string) => void): void => {
      const question = (): Promise<Response> => fetch(address(handler, id));
      void patiently(question, () => own.asked === wanted).then(text => {
        if (text === null) return;
        put(text);
        draw(panel);
      });
    };
    if (kind === 'Sweep' || kind === 'Sensitivity') void many(panel, own, kind);
    else if (kind === 'Chance') void many(panel, own, 'ByChance');
    else if (kind === 'Phase') bring('Phase', text => (own.phase = JSON.parse(text) as Phase));
    else if (kind === 'Curves' && own.numbers) bring('Rows', text => (own.rows = JSON.parse(text) as PanelData));
    else if (kind === 'Outcomes' || kind === 'Checks') bring(kind, text => (own.words = text));
  }

  const bodyOf = (panel: HTMLElement): HTMLElement => panel.querySelector<HTMLElement>('.panel-body')!;

  function draw(panel: HTMLElement, width = bodyOf(panel).clientWidth, picture?: { width: number; height: number }): void {
    if (!explored) return;
    const id = panel.dataset.panel!,
      own = state(id),
      settings = settingsOf(panel),
      kind = panel.dataset.kind!;
    const place = bodyOf(panel),
      words = panel.querySelector<HTMLElement>('.panel-words')!;
    const height = settings.height || usualHeight(kind, explored, settings);
    panel.querySelector('.panel-grip')?.setAttribute('aria-valuenow', String(height));
    const size = picture ?? { width, height: panel.classList.contains('filled') ? Math.max(height, innerHeight - 150) : height };
    const redraw = (): void => draw(panel);
    const failure = kind === 'Sweep' || kind === 'Outcomes' || kind === 'Checks' ? null : explored.run.failure;
    if (failure && explored.run.times.length === 0) {
      place.textContent = failure;
      return;
    }
    if (own.numbers && kind !== 'Table') drawNumbers(place, id, kind, own, settings);
    else if (kind === 'Curves') drawCurves(place, words, explored, id, settings, own.view, kept(), compared(), chance.fan, redraw, size);
    else if (kind === 'Table') drawTable(place, explored, explored.panels[id], settings);
    else if (kind === 'Observed') drawObserved(place, words, explored, own.view, redraw, size);
    else if (kind === 'Budget') drawBudget(place, words, explored, id, own.view, redraw, size);
    else if (kind === 'Sweep' && own.sweep) drawSweep(place, words, own.sweep, settings, own.view, redraw, explored.run.unit, size);
    else if (kind === 'Sensitivity' && own.sensitivity) drawSensitivity(place, words, own.sensitivity, size);
    else if (kind === 'Chance' && own.byChance) drawByChance(place, words, own.byChance, size);
    else if ((kind === 'Outcomes' || kind === 'Checks') && own.words !== undefined) {
      // What stands there already is not laid out again while a slider moves.
      if (own.placed !== own.words || !place.firstChild) {
        place.innerHTML = own.words;
        htmx.process(place);
      }
      own.placed = own.words;
    } else if (kind === 'Phase' && own.phase) drawPhase(place, words, own.phase, settings, size);
    // What there was before a run stopped is drawn, and why it did stands above.
    if (failure && !words.textContent?.startsWith(failure)) words.textContent = `${failure} ${words.textContent ?? ''}`.trim();
  }

  function drawNumbers(place: HTMLElement, id: string, kind: string, own: PanelState, settings: Settings): void {
    const rows =
      kind === 'Sweep' && own.sweep
        ? sweepRows(own.sweep, settings)
        : kind === 'Sensitivity' && own.sensitivity
          ? sensitivityRows(own.sensitivity)
          : kind === 'Chance' && own.byChance
            ? chanceRows(own.byChance)
            : kind === 'Phase' && own.phase
              ? phaseRows(own.phase, settings)
              : null;
    if (rows) drawRows(place, rows.heads, rows.rows, digitsOf(settings));
    else if (kind === 'Observed') drawObservedTable(place, explored!, settings);
    else drawTable(place, explored!, kind === 'Curves' ? own.rows : explored!.panels[id], settings);
  }

  const panels = (): HTMLElement[] => [...root.querySelectorAll<HTMLElement>('.panel')];
  /** All that a panel's picture follows from, but for what it asks for by itself. */
  const causes = (panel: HTMLElement, width: number): string =>
    JSON.stringify([
      parsed,
      width,
      panel.dataset.settings,
      panel.className,
      state(panel.dataset.panel!).numbers,
      compared(),
      areResiduals(),
      fanned,
      kept().map(run => [run.id, run.name, run.colour]),
    ]);

  /** All widths are asked for before anything is drawn: the browser lays the page out once. What would come out the same stays. */
  function drawAll(): void {
    const all = panels().map(panel => ({ panel, width: bodyOf(panel).clientWidth }));
    for (const { panel, width } of all) {
      const own = state(panel.dataset.panel!),
        now = causes(panel, width);
      if (own.drawn === now && bodyOf(panel).firstChild) continue;
      own.drawn = now;
      draw(panel, width);
    }
  }
  let fanned = 0;
  const chance = new ChanceSwitch(
    root,
    () => {
      fanned++;
      drawAll();
    },
    () => `${root.querySelector<HTMLElement>('#explore')?.dataset.stamp} ${sliders.text()}`,
    () => `?handler=Fan&set=${encodeURIComponent(sliders.text())}`,
  );
  const needAll = (): void => {
    panels().forEach(need);
    chance.refresh();
  };

  /** Runs with the values of the sliders: the last one asked for is the one that is shown. */
  let waiting = false,
    again = false;
  async function run(): Promise<void> {
    if (waiting) {
      again = true;
      return;
    }
    waiting = true;
    const turn = ++asked;
    try {
      const answer = await (await fetch(`?handler=Run&set=${encodeURIComponent(sliders.text())}`)).text();
      if (turn === asked) {
        parse(answer);
        drawAll();
        root.dispatchEvent(new CustomEvent('explored'));
      }
    } catch {
      // Without the server the curves stay as they were, until it is back.
      await isBack();
      again = true;
    }
    waiting = false;
    if (again) {
      again = false;
      await run();
    } else {
      clearTimeout(resting);
      resting = window.setTimeout(needAll, 250);
    }
  }
  let resting = 0;
  const sliders = new Sliders(root, () => void run());

  async function fetchKept(): Promise<void> {
    const items = [...root.querySelectorAll<HTMLElement>('.kept-run')];
    for (const id of keptRuns.keys()) if (!items.some(item => item.dataset.run === id)) keptRuns.delete(id);
    const missing = items.filter(item => !keptRuns.has(item.dataset.run!));
    await Promise.all(
      missing.map(async item =>
        keptRuns.set(
          item.dataset.run!,
          parseExplored(await (await fetch(`?handler=Kept&run=${encodeURIComponent(item.dataset.run!)}`)).text()),
        ),
      ),
    );
    if (items.length || missing.length) drawAll();
  }

  function refresh(): void {
    const next = document.getElementById('explore-run')?.textContent ?? '';
    if (next !== text) {
      text = next;
      // Formulas of kept runs are those of the panels as they are now.
      keptRuns.clear();
      if (text) parse(text);
    }
    sliders.restore();
    markResiduals();
    chance.refresh();
    for (const panel of panels()) {
      // Menus stay open over the answer to what was chosen in them.
      const menu = panel.querySelector('details');
      if (menu) menu.open = state(panel.dataset.panel!).menu;
    }
    // What the server has to work on is asked for before anything is drawn.
    if (sliders.text()) void run();
    else needAll();
    drawAll();
    void fetchKept();
  }

  startResiduals(root, drawAll);
  root.addEventListener(
    'toggle',
    event => {
      const panel = (event.target as Element).closest<HTMLElement>('.panel');
      if (panel) state(panel.dataset.panel!).menu = (event.target as HTMLDetailsElement).open;
    },
    true,
  );
  root.addEventListener('change', event => {
    const input = event.target as HTMLInputElement;
    if (input.id === 'compare-how') drawAll();
    const pick = input.dataset.pick,
      panel = input.closest<HTMLElement>('.panel');
    if (!pick || !panel) return;
    const chosen = [...panel.querySelectorAll<HTMLInputElement>(`[data-pick=${pick}]`)].filter(box => box.checked).map(box => box.value);
    void htmx.ajax('post', '?handler=Panel', {
      source: panel,
      target: '#explore',
      swap: 'morph:outerHTML',
      values: { panel: panel.dataset.panel!, field: pick, value: chosen.join(',') },
    });
  });
  root.addEventListener('click', event => {
    const opened = (event.target as Element).closest<HTMLDetailsElement>('.panel-menu');
    // The menu tells that it opened only after an answer may have drawn it anew.
    if (opened && (event.target as Element).closest('summary'))
      state(opened.closest<HTMLElement>('.panel')!.dataset.panel!).menu = !opened.open;
    const target = event.target as Element,
      button = target.closest<HTMLElement>('[data-take], [data-file]'),
      panel = target.closest<HTMLElement>('.panel');
    if (!button || !panel) return;
    const how = button.dataset.take ?? '';
    if (button.dataset.file)
      location.assign(
        `${address('Table', panel.dataset.panel!)}&form=${button.dataset.file}${'family' in button.dataset ? '&family=true' : ''}`,
      );
    else if (how === 'window' || how === 'numbers') {
      const on = button.getAttribute('aria-pressed') !== 'true';
      button.setAttribute('aria-pressed', String(on));
      if (how === 'window') panel.classList.toggle('filled', on);
      else state(panel.dataset.panel!).numbers = on;
      need(panel);
      draw(panel);
    } else if (how === 'copy' && panel.querySelector('.panel-body table.numbers')) {
      void copyNumbers(
        panel,
        panel.querySelector<HTMLElement>('.panel-words')!,
        panel.querySelector('[data-file]') ? `${address('Table', panel.dataset.panel!)}&form=tabs` : null,
      );
    } else {
      // The picture is drawn at the size that was asked for, and the panel then as it was.
      const asked = (side: string): number | undefined =>
        number(panel.querySelector<HTMLInputElement>(`[data-picture=${side}]`)?.value ?? '');
      const width = Math.min(4000, Math.max(260, asked('width') ?? bodyOf(panel).clientWidth)),
        tall = Math.min(
          3000,
          Math.max(140, asked('height') ?? Number(panel.querySelector('.panel-grip')?.getAttribute('aria-valuenow') ?? 300)),
        );
      const words = panel.querySelector<HTMLElement>('.panel-words')!,
        text = words.textContent;
      void take(panel, how as PictureForm, words, chosen => {
        draw(panel, undefined, chosen ? { width, height: tall } : undefined);
        if (!chosen) words.textContent = text;
      });
    }
  });
  startKeys(root);
  startResizing(
    root,
    (panel, height) =>
      void htmx.ajax('post', '?handler=Panel', {
        source: panel,
        target: '#explore',
        swap: 'morph:outerHTML',
        values: { panel: panel.dataset.panel!, field: 'height', value: String(height) },
      }),
  );
  let settling = false;
  document.addEventListener('dates-changed', () => {
    for (const panel of panels()) state(panel.dataset.panel!).drawn = '';
    drawAll();
  });
  document.addEventListener('htmx:afterSettle', () => {
    if (settling) return;
    settling = true;
    queueMicrotask(() => {
      settling = false;
      refresh();
    });
  });
  new ResizeObserver(() => {
    const now = panels()
      .map(panel => panel.clientWidth)
      .join(' ');
    if (now !== sizes) drawAll();
    sizes = now;
  }).observe(root);
  refresh();
}
