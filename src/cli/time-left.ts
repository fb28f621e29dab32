import { call } from './call.js';

/** Counts on standard error what is done of something long, and says how long the rest will take, where somebody looks. */
export function timeLeft(of: string, all: number, { quiet, json }: { quiet?: boolean; json?: boolean }): { count: () => void; end: () => void } {
  const { watched, err } = call();
  const shows = watched && !quiet && !json && all > 0;
  const start = performance.now();
  let done = 0;
  return {
    count() {
      done++;
      if (shows) err(`\r${done} of ${all} ${of}, ${clock(((performance.now() - start) / done / 1000) * (all - done))} left `);
    },
    end() {
      if (shows) err(`\r${' '.repeat(60)}\r`);
    },
  };
} // prettier-ignore

/** Minutes and seconds, with hours where there are any. */
function clock(seconds: number): string {
  const whole = Math.ceil(seconds);
  const two = (part: number): string => String(part).padStart(2, '0');
  const minutes = Math.floor(whole / 60);
  return minutes < 60
    ? `${minutes}:${two(whole % 60)}`
    : `${Math.floor(minutes / 60)}:${two(minutes % 60)}:${two(whole % 60)}`;
}
