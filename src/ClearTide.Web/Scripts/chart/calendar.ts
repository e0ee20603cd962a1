// Dates on axes of time: what a time of the model is called where the study has a date of time zero and its reader wants dates.
import { utcTicks } from 'd3-time';
import { amount } from './numbers';

const names = ['Jan', 'Feb', 'Mar', 'Apr', 'May', 'Jun', 'Jul', 'Aug', 'Sep', 'Oct', 'Nov', 'Dec'];

/** How model time lies on the calendar: in seconds from a date, or in months of their true lengths. */
interface Calendar {
  zero: Date;
  /** Seconds in a unit of time. */
  seconds: number;
  /** Months in a unit of time; 0 where it is no month and no year. */
  months: number;
}

const preference = 'clear-tide dates';
const button = (): HTMLElement | null => document.getElementById('dates');

/** Whether dates are wanted: they are until somebody says otherwise. */
const wanted = (): boolean => localStorage.getItem(preference) !== 'no';

/** The calendar of the study on the page; null where it has none, or numbers are wanted. */
export function calendar(): Calendar | null {
  const { zero, seconds, months } = button()?.dataset ?? {};
  return zero && wanted() ? { zero: new Date(`${zero}T00:00:00Z`), seconds: Number(seconds), months: Number(months) } : null;
}

/** The same day and hour some months on; the last day of a month that is too short. */
function monthsOn(from: Date, months: number): Date {
  const at = new Date(from);
  at.setUTCMonth(from.getUTCMonth() + months);
  if (at.getUTCDate() !== from.getUTCDate()) at.setUTCDate(0);
  return at;
}

/** The moment of a time of the model. */
export function dateOf({ zero, seconds, months }: Calendar, time: number): Date {
  if (months === 0) return new Date(zero.getTime() + 1000 * seconds * time);
  const whole = Math.floor(time),
    from = monthsOn(zero, months * whole).getTime(),
    until = monthsOn(zero, months * (whole + 1)).getTime();
  return new Date(from + (time - whole) * (until - from));
}

/** The time of the model at a moment: the inverse of {@link dateOf}. */
export function timeOf(of: Calendar, date: Date): number {
  const { zero, seconds, months } = of;
  if (months === 0) return (date.getTime() - zero.getTime()) / (1000 * seconds);
  let whole = Math.floor(((date.getUTCFullYear() - zero.getUTCFullYear()) * 12 + date.getUTCMonth() - zero.getUTCMonth()) / months);
  if (monthsOn(zero, months * whole) > date) whole--;
  const from = monthsOn(zero, months * whole).getTime(),
    until = monthsOn(zero, months * (whole + 1)).getTime();
  return whole + (date.getTime() - from) / (until - from);
}

const two = (number: number): string => String(number).padStart(2, '0');
const isMidnight = (date: Date): boolean => date.getTime() % 86_400_000 === 0;

/** What each of some dates is called beside the others: years alone, months, days or hours, and the year where it begins. */
function called(dates: Date[]): string[] {
  const years = dates.every(date => isMidnight(date) && date.getUTCDate() === 1 && date.getUTCMonth() === 0),
    months = dates.every(date => isMidnight(date) && date.getUTCDate() === 1),
    seconds = dates.some(date => date.getUTCSeconds() > 0);
  return dates.map((date, k) => {
    const year = String(date.getUTCFullYear()),
      month = names[date.getUTCMonth()]!;
    if (years) return year;
    const turn = k === 0 || date.getUTCFullYear() !== dates[k - 1]!.getUTCFullYear();
    if (months) return turn ? `${month} ${year}` : month;
    const day = `${date.getUTCDate()} ${month}`;
    if (isMidnight(date)) return turn ? `${day} ${year}` : day;
    const clock = `${two(date.getUTCHours())}:${two(date.getUTCMinutes())}${seconds ? `:${two(date.getUTCSeconds())}` : ''}`;
    return k === 0 ? `${day} ${clock}` : clock;
  });
}

/** Dates for an axis between two times, with the times they stand at; none where a calendar does not reach, or parts of a second count. */
export function dateTicks(of: Calendar, from: number, until: number, count: number): { time: number; name: string }[] {
  const [first, last] = [dateOf(of, from), dateOf(of, until)];
  if (!(last.getTime() - first.getTime() > 4000)) return [];
  const dates = utcTicks(first, last, count),
    words = called(dates);
  return dates.map((date, k) => ({ time: timeOf(of, date), name: words[k]! }));
}

/** A time in words: its date where there is one, and what it is in the model. */
export function timeName(time: number, unit: string): string {
  const of = calendar(),
    plain = `${unit} ${amount(time)}`;
  if (!of) return plain;
  const date = dateOf(of, time);
  if (Number.isNaN(date.getTime())) return plain;
  const day = `${date.getUTCDate()} ${names[date.getUTCMonth()]} ${date.getUTCFullYear()}`;
  return `${day}${of.months === 0 && of.seconds < 86_400 ? ` ${two(date.getUTCHours())}:${two(date.getUTCMinutes())}` : ''}, ${plain}`;
}

/** The button that changes between dates and numbers: charts are told, and draw themselves anew. */
export function startDates(): void {
  const show = (): void => button()?.setAttribute('aria-pressed', String(wanted()));
  document.addEventListener('click', event => {
    if (!(event.target as Element).closest('#dates')) return;
    localStorage.setItem(preference, wanted() ? 'no' : 'yes');
    show();
    document.dispatchEvent(new Event('dates-changed'));
  });
  // An answer brings the header's state anew, and the button with it.
  document.addEventListener('htmx:afterSettle', show);
  show();
}
