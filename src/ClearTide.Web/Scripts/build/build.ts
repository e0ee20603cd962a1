// The Build page: keeps diagram, ledger and curves in step with each answer of the server and with the time cursor.
import { Curves } from './curves';
import { TimeCursor } from './cursor';
import { listMembers, shown, startMembers } from './members';
import { restoreOpenLine, showLedgerAt, startLedger } from './ledger';
import { startQuickLine } from './quickline';
import { startPlaying } from './play';
import { startKeys } from './keys';
import { startDrawer } from './drawer';
import { startSplits } from './split';
import { startHistory } from './history';
import { startChance } from './chance';
import { startChecking } from './check';
import { startCompleting } from './complete';
import { startInserting } from './insert';
import { startPoints } from './points';
import { startReordering } from './reorder';
import { showSelection, startSelection } from './selection';
import { showSpan } from './span';
import { drawSparks } from './sparks';
import { applyFilter, startViews } from './views';
import { showInfluences } from '../paper/influence';
import { startPaper } from '../paper/paper';
import { showLevels } from '../paper/levels';
import { restoreView } from '../paper/view';
import { parseRun, readRunText, refuseOlder, type Run } from './run';

export function startBuild(root: HTMLElement): void {
  const cursor = new TimeCursor(`clear-tide time ${root.dataset.study}`);
  const main = root.querySelector<HTMLElement>('#curves')!;
  const curves = new Curves(
    main,
    root.querySelector<HTMLElement>('#observed')!,
    root.querySelector<HTMLElement>('#hidden-curves')!,
    root.querySelector<HTMLElement>('[data-residuals]')!,
    cursor,
  );
  let run: Run = {
    unit: 'day',
    units: 'days',
    per: 'day',
    start: 0,
    end: 1,
    method: 'Automatic',
    step: 1,
    tolerance: 1,
    seed: 0,
    random: false,
    times: new Float64Array(),
    curves: [],
    failure: null,
    remark: null,
    observed: [],
    groups: [],
    doses: [],
    members: [],
  };
  let text = '';

  const follow = (time: number): void => {
    showLevels(shown(run), time);
    showLedgerAt(shown(run), time);
  };
  const chance = startChance(root.querySelector<HTMLElement>('#chance')!, curves);
  const refresh = (): void => {
    const next = readRunText();
    if (next !== text) {
      const first = text === '';
      text = next;
      run = parseRun(text);
      // A run that stopped short has nothing to read behind its last time.
      cursor.setSpan(run.start, run.failure && run.times.length > 0 ? run.times[run.times.length - 1]! : run.end);
      showSpan(run);
      curves.show(run, !first);
      chance();
    }
    listMembers(run);
    restoreView();
    restoreOpenLine();
    applyFilter();
    showSelection();
    drawSparks(shown(run));
    // The curves are shown first; what follows the cursor comes with the next frame.
    requestAnimationFrame(() => setTimeout(() => follow(cursor.time)));
  };

  startMembers(root, () => {
    listMembers(run);
    curves.show(run, false);
    drawSparks(shown(run));
    follow(cursor.time);
  });
  startCompleting(root);
  startInserting(root);
  startChecking(root);
  startSelection(root);
  startLedger(root);
  startViews(root);
  startPoints(root);
  startReordering(root);
  startQuickLine(root);
  startPaper(root);
  startPlaying(root, cursor);
  startHistory();
  refuseOlder();
  startKeys();
  startSplits(root);
  startDrawer(root);
  document.addEventListener('keydown', event => {
    // Another draw of the random inputs by one key, where no text is typed.
    if (
      event.key === 'R' &&
      event.shiftKey &&
      !(event.ctrlKey || event.metaKey) &&
      !(event.target as Element).closest('input, textarea, select')
    )
      document.getElementById('draw-another')?.click();
  });
  cursor.onMove(follow);
  document.addEventListener('look-changed', () => follow(cursor.time));
  document.addEventListener('part-marked', showInfluences);
  main.addEventListener('keydown', event => {
    if ((event.key === 'Home' || event.key === 'End') && event.target === main) {
      event.preventDefault();
      cursor.move(cursor.range[event.key === 'Home' ? 0 : 1]);
      return;
    }
    const direction = event.key === 'ArrowLeft' ? -1 : event.key === 'ArrowRight' ? 1 : 0;
    if (direction === 0 || event.target !== main) return;
    event.preventDefault();
    cursor.step(direction, event.shiftKey);
  });
  // One answer settles several pieces of the page, each with an event of its own: they are taken up together.
  let waiting = false;
  document.addEventListener('htmx:afterSettle', event => {
    if (waiting || (event.target as Element)?.id === 'quick-preview') return;
    waiting = true;
    queueMicrotask(() => {
      waiting = false;
      refresh();
    });
  });
  refresh();
}
