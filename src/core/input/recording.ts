import { actionName } from './actions.js';
import type { HostCall, RecordingStart } from './host.js';
import { HOST, type Intents } from './intents.js';
import type { InputRow } from './script.js';

/** What a recorder keeps of one body. */
export class Recorder {
  readonly rows: InputRow[] = [];

  /** How many rows there were before the present tick. */
  private before = 0;

  /** Keeps the intents of a tick, before it is played. */
  keep(intents: Intents): void {
    this.before = this.rows.length;
    for (let i = 0; i < intents.count; i++) {
      if (intents.action[i] === HOST) this.call(intents.time[i]!, intents.calls[i]!);
      else
        this.rows.push({
          time: Math.floor(intents.time[i]! * 1e6 + 0.5) / 1e6,
          action: actionName(intents.action[i]!),
          value: intents.value[i]!,
        });
    }
  }

  /** What was to be pressed within the tick after a moment is not. */
  forgetAfter(time: number): void {
    const { rows, before } = this;
    rows.push(...rows.splice(before).filter((row) => row.call !== undefined || row.time <= time));
  }

  /** The tick has not happened. */
  takeBack(): void {
    this.rows.length = this.before;
  }

  /** Keeps a call of the game. Its moment need not be whole microseconds. */
  call(time: number, call: HostCall | RecordingStart): void {
    this.rows.push({ time, action: 'host', value: 0, call });
  }
}

/**
 * How a recording began, if it says so.
 * @example
 * ```ts
 * startOf(rows)?.rate // the rate that it was recorded at
 * ```
 */
export function startOf(rows: readonly InputRow[]): RecordingStart | undefined {
  const first = rows[0]?.call;
  return first !== undefined && 'rate' in first ? first : undefined;
}
