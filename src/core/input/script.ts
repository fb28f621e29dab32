import { ACTIONS, stamp, type Action, type Driver } from './intents.js';

/** One line of an input: from `time` on, `action` has this value. */
export interface InputRow {
  /** s */
  time: number;
  action: Action;
  /** 0 or 1 for keys, −1 to 1 for `move`. */
  value: number;
}

/**
 * A driver that plays rows of input by the stage's clock.
 * @param rows in any order; rows of the same moment act in the order given
 * @throws RangeError naming a row whose time, action or value is out of range
 */
export function script(rows: readonly InputRow[]): Driver {
  const order = rows
    .map((row, i) => {
      const action = ACTIONS.indexOf(row.action);
      if (!(row.time >= 0 && row.time < Infinity))
        throw new RangeError(`row ${i + 1}: time is ${row.time}; it must be at least 0`);
      if (action < 0) throw new RangeError(`row ${i + 1}: there is no action ${String(row.action)}`);
      const least = row.action === 'move' ? -1 : 0;
      if (!(row.value >= least && row.value <= 1))
        throw new RangeError(`row ${i + 1}: ${row.action} is ${row.value}; it must be ${least} to 1`);
      return { time: stamp(row.time), action, value: row.value + 0, i };
    })
    .sort((a, b) => a.time - b.time || a.i - b.i);
  const times = Float64Array.from(order, ({ time }) => time);
  const actions = Uint8Array.from(order, ({ action }) => action);
  const values = Float64Array.from(order, ({ value }) => value);
  let next = 0;
  let last = 0;
  return {
    read(into) {
      const { from, until } = into;
      if (from < last) {
        // The stage went back in time: find the place again.
        next = 0;
        while (next < times.length && times[next]! < from) next++;
      }
      last = until;
      for (; next < times.length && times[next]! < until; next++)
        into.push(times[next]!, actions[next]!, values[next]!);
    },
  };
}
