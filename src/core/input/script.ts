import { listOf } from '../nearest.js';
import { SLACK } from '../tolerance.js';
import { isGroup, showValue } from '../tuning/words.js';
import { type Action, allActions, knownAction } from './actions.js';
import type { HostCall, RecordingStart } from './host.js';
import { type DriverOf, HOST, stamp } from './intents.js';

/** One line of an input: from `time` on, `action` has this value. */
export interface InputRow {
  /** s */
  time: number;
  /** One that every character knows, one that an ability declares, or `host` for a call of the game. */
  action: Action | 'host' | (string & {});
  /** 0 or 1 for keys, −1 to 1 for `move`; 0 for `host`. */
  value: number;
  /** For `host`: the call, or how the recording began. */
  call?: HostCall | RecordingStart;
}

/**
 * A driver that plays rows of input by the stage's clock. Given to a character while it plays, or taken to another moment by a snapshot, it goes on
 * from there: what is earlier does not count.
 * @param rows in any order; rows of the same moment act in the order given
 * @throws RangeError naming a row whose time, action or value is out of range
 * @example
 * ```ts
 * hero.drive(script([{ time: 0.2, action: 'right', value: 1 }]));
 * ```
 */
export function script(rows: readonly InputRow[]): DriverOf<unknown> {
  if (!Array.isArray(rows)) throw new RangeError(`rows is ${showValue(rows)}; it must be a list of rows of input`);
  const order = rows
    .map((row, i) => {
      if (!(row.time >= 0 && row.time < Infinity))
        throw new RangeError(`row ${i + 1}: time is ${row.time}; it must be at least 0`);
      // Calls were made between two ticks, whose moments need not be whole microseconds.
      if (row.action === 'host' && !isGroup(row.call))
        throw new RangeError(`row ${i + 1}: call is ${showValue(row.call)}; a host row needs one`);
      if (row.action === 'host') return { time: row.time, action: HOST, value: 0, call: row.call, i };
      const action = knownAction(row.action);
      if (action < 0)
        throw new RangeError(
          `row ${i + 1}: there is no action ${row.action}; there are ${listOf(allActions(), String(row.action))}`,
        );
      const least = row.action === 'move' ? -1 : 0;
      if (!(row.value >= least && row.value <= 1))
        throw new RangeError(`row ${i + 1}: ${row.action} is ${row.value}; it must be ${least} to 1`);
      return { time: stamp(row.time), action, value: row.value + 0, call: undefined, i };
    })
    .filter(({ call }) => call === undefined || !('rate' in call))
    .sort((a, b) => a.time - b.time || a.i - b.i);
  const times = Float64Array.from(order, ({ time }) => time);
  const actions = Uint8Array.from(order, ({ action }) => action);
  const values = Float64Array.from(order, ({ value }) => value);
  const calls = order.map(({ call }) => call as HostCall | undefined);
  let next = 0;
  let last = 0;
  let isFresh = false;
  /** What is earlier does not count. */
  let from = 0;
  return {
    hasCalls: rows.some(({ action }) => action === 'host'),
    fresh: () => void (isFresh = true),
    holding(start, held) {
      held.fill(0);
      for (let i = 0; i < times.length && times[i]! < start - SLACK; i++)
        if (times[i]! >= from - SLACK && actions[i] !== HOST) held[actions[i]!] = values[i]!;
    },
    read(into) {
      const { start } = into;
      // Rows are by the stage's clock, whatever clock the tick goes by.
      const shift = into.from - start;
      const until = into.until - shift;
      if (isFresh || start < last - SLACK || start > last + 2 * SLACK) {
        // The stage went back in time, or forward, or the script has just been given to somebody: find the place.
        next = 0;
        if (isFresh) from = start;
        isFresh = false;
        while (next < times.length && times[next]! < start - SLACK) next++;
      }
      last = until;
      for (; next < times.length && times[next]! < until; next++) {
        const call = calls[next];
        if (call) into.pushCall(times[next]! + shift, call);
        else into.push(times[next]! + shift, actions[next]!, values[next]!);
      }
    },
  };
}
