import './page/requests';
import './page/menus';
import './page/offline';
import './page/steps';
import './page/filters';
import './page/rank';
import './page/pressed';
import './chart/figure';
import { startDates } from './chart/calendar';
import { keepFocus } from './page/focus';
import { undoByKey } from './page/undo';
import { startFitChart } from './page/fit';
import { startTrying } from './page/try';
import { startBuild } from './build/build';
import { startExplore } from './explore/explore';
import { startProjection } from './projection/projection';
import { startScenarios } from './scenarios/scenarios';
import { startSubjects } from './subjects/subjects';
import { checkUploadSize } from './page/upload';

const starters: Record<string, (root: HTMLElement) => void> = {
  build: startBuild,
  explore: startExplore,
  fit: () => {
    startFitChart();
    startTrying();
  },
  projections: startProjection,
  scenarios: startScenarios,
  subjects: startSubjects,
  data: checkUploadSize,
};

startDates();
const root = document.querySelector<HTMLElement>('main[data-page]');
if (root) starters[root.dataset.page ?? '']?.(root);
keepFocus();
if (root?.dataset.page !== 'build') undoByKey();
