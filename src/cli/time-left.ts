import { call } from './call.js';
import type { RowDoing } from './rows-done.js';

/** It is said anew so often, ms. */
const SAYS = 1_000;
/** A line of a terminal that is not wide. */
const WIDE = 78;

/** What is said of long work while it goes on. */
export interface TimeLeft {
  count(): void;
  /** Makes room for something else to be said. */
  clear(): void;
  end(): void;
}

/**
 * Counts on standard error what is done of something long, and says how long the rest will take, where somebody looks; of rows that take long, how far they have come.
 * @param doing the rows that are being done now: it is asked each second
 */
export function timeLeft(all: number, { quiet, json }: { quiet?: boolean; json?: boolean }, doing: () => readonly RowDoing[]): TimeLeft {
  const { watched, err } = call();
  if (!watched || quiet || json || all === 0) return { count: () => undefined, clear: () => undefined, end: () => undefined };
  const start = performance.now();
  let done = 0;
  let shown = 0;
  const say = (): void => {
    const left = done === 0 ? '' : `, ${clock(((performance.now() - start) / done / 1000) * (all - done))} left`;
    const line = `${done} of ${all} rows${left}${rowSaid(doing())}`.slice(0, WIDE);
    err(`\r${line.padEnd(shown)}`);
    shown = line.length;
  };
  const clear = (): void => {
    err(`\r${' '.repeat(shown)}\r`);
    shown = 0;
  };
  const saying = setInterval(say, SAYS);
  return {
    count() {
      done++;
      say();
    },
    clear,
    end() {
      clearInterval(saying);
      clear();
    },
  };
} // prettier-ignore

/** Of the row that has spent most: the others are as far or nearer to their beginning. */
function rowSaid(rows: readonly RowDoing[]): string {
  const [first] = [...rows].sort((one, other) => other.events - one.events);
  if (first === undefined || first.events === 0) return '';
  const { row, done, of, events } = first;
  return `; row ${row}: ${done} of ${of} questions, ${events.toLocaleString('en')} events`;
}

/** Minutes and seconds, with hours where there are any. */
function clock(seconds: number): string {
  const whole = Math.ceil(seconds);
  const two = (part: number): string => String(part).padStart(2, '0');
  const minutes = Math.floor(whole / 60);
  return minutes < 60
    ? `${minutes}:${two(whole % 60)}`
    : `${Math.floor(minutes / 60)}:${two(minutes % 60)}:${two(whole % 60)}`;
}
