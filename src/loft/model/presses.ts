import type { InputRow } from 'apperin';

/** A key that is held for a while: a bar on the strip of time. */
export interface Bar {
  action: string;
  /** When it is pressed, and let go of, s of stage time; the ends of what is shown where that was before or comes after. */
  at: number;
  until: number;
  /** How far, of an axis; 1 of a key. */
  value: number;
  /** Its rows among those of the take; undefined where it was held before, or is held on. */
  press: number | undefined;
  release: number | undefined;
}

/** What of a bar is moved: the press with its release, or the release alone. */
export type BarPart = 'press' | 'release';

/** No key is held for less, s; and what is moved comes to whole milliseconds. */
const LEAST = 0.001;

/**
 * The bars of an input, in the order of their actions' first presses.
 * @param before actions that were held when it began
 */
export function barsOf(rows: readonly InputRow[], from: number, to: number, before: readonly string[] = []): Bar[] {
  const found = before.map((action): Bar => ({ action, at: from, until: to, value: 1, press: undefined, release: undefined }));
  const held = new Map(found.map((bar) => [bar.action, bar]));
  rows.forEach(({ time, action, value, call }, i) => {
    if (call !== undefined || action === 'host' || time > to) return;
    const open = held.get(action);
    if (open) {
      if (open.value === value) return;
      open.until = time;
      open.release = i;
      held.delete(action);
    } else if (value === 0 && !found.some((bar) => bar.action === action)) found.push({ action, at: from, until: time, value: 1, press: undefined, release: i });
    if (value === 0) return;
    const bar: Bar = { action, at: time, until: to, value, press: i, release: undefined };
    found.push(bar);
    held.set(action, bar);
  });
  const order = [...new Set(found.map(({ action }) => action))];
  return found.sort((a, b) => order.indexOf(a.action) - order.indexOf(b.action) || a.at - b.at);
} // prettier-ignore

/**
 * The rows with a bar moved; it stays between its neighbours of the same action, and within the take.
 * @param by how far, s; to whole milliseconds unless `free`
 */
export function movedBar(rows: readonly InputRow[], bar: Bar, part: BarPart, by: number, { from, to }: { from: number; to: number }, free = false): InputRow[] {
  const { action, press, release } = bar;
  const round = (time: number): number => (free ? Math.round(time * 1e6) / 1e6 : Math.round(time * 1e3) / 1e3);
  const same = rows.flatMap((row, i) => (row.action === action && row.call === undefined && i !== press && i !== release ? [row.time] : []));
  const before = Math.max(from, ...same.filter((time) => time <= bar.at).map((time) => time + LEAST));
  const after = Math.min(to, ...same.filter((time) => time >= bar.until).map((time) => time - LEAST));
  const changed = new Map<number, number>();
  if (part === 'press') {
    if (press === undefined) return [...rows];
    const length = release === undefined ? LEAST : bar.until - bar.at;
    const at = Math.min(Math.max(round(bar.at + by), before), after - length);
    changed.set(press, at);
    if (release !== undefined) changed.set(release, at + length);
  } else {
    const until = Math.min(Math.max(round(bar.until + by), bar.at + LEAST), after);
    if (release === undefined) return until < to ? sorted([...rows, { time: until, action, value: 0 }]) : [...rows];
    changed.set(release, until);
  }
  return sorted(rows.map((row, i) => (changed.has(i) ? { ...row, time: Math.round(changed.get(i)! * 1e6) / 1e6 } : row)));
} // prettier-ignore

const sorted = (rows: InputRow[]): InputRow[] => rows.sort((a, b) => a.time - b.time);
