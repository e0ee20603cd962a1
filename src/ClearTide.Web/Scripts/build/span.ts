// The fields of the span and of the method say what the study has, also after undo and after an entry that was refused; what is being typed is
// left alone. Of step and tolerance only the one that the method uses is shown.
import type { Run } from './run';

const FIXED = ['RungeKutta4', 'Midpoint', 'Euler', 'Discrete'];

export function showSpan(run: Run): void {
  for (const name of ['start', 'end', 'method', 'step', 'tolerance'] as const) {
    const field = document.querySelector<HTMLInputElement | HTMLSelectElement>(`.span-form [name=${name}]`);
    if (!field || (field === document.activeElement && name !== 'method')) continue;
    field.value = String(run[name]);
    field.removeAttribute('aria-invalid');
  }
  const unit = document.querySelector<HTMLElement>('.time-menu > summary');
  if (unit && run.units) unit.textContent = run.units;
  for (const [name, shown] of [
    ['step', FIXED.includes(run.method)],
    ['tolerance', !FIXED.includes(run.method)],
  ] as const) {
    const label = document.querySelector<HTMLElement>(`.span-form [data-for=${name}]`);
    if (label) label.hidden = !shown;
  }
}
