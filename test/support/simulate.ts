import {
  openStage,
  recordTrace,
  script,
  type AddOptions,
  type Character,
  type CompiledLevel,
  type InputRow,
  type Level,
  type Motion,
  type StageEvent,
  type Trace,
  type Tuning,
} from 'apperin';
import { share } from './share.js';

/** Ticks a second. */
const ALL = [15, 30, 50, 60, 120, 144, 240, 1000] as const;
export const RATES: readonly (typeof ALL)[number][] = share<readonly (typeof ALL)[number][]>({
  quick: [15, 60, 144],
  test: ALL,
  deep: ALL,
});

export interface Run extends Trace {
  events: StageEvent[];
  who: Character;
}

/** Plays an input from the start and records it. */
export function simulate(
  level: Level | CompiledLevel,
  tuning: Tuning | Motion,
  input: readonly InputRow[],
  rate: number,
  seconds: number,
  options: AddOptions = {},
): Run {
  const stage = openStage(level);
  const who = stage.add(tuning, { driver: script(input), ...options });
  const trace = recordTrace(stage, who);
  for (let i = 0; i < seconds * rate - 1e-6; i++) {
    stage.tick(1 / rate);
    trace.row();
  }
  return { rows: trace.rows, events: trace.events as StageEvent[], movers: trace.movers, who };
}

/** Presses: `right@0 jump@0.5-0.8` holds right from 0 s on, and jump from 0.5 to 0.8 s. */
export function presses(text: string): InputRow[] {
  return text
    .split(' ')
    .filter(Boolean)
    .flatMap((word): InputRow[] => {
      const [action, times] = word.split('@') as [InputRow['action'], string];
      const [from, to] = times.split('-').map(Number) as [number, number?];
      const down: InputRow = { time: from, action, value: 1 };
      return to === undefined ? [down] : [down, { time: to, action, value: 0 }];
    });
}

export function the<K extends StageEvent['event']>(run: { events: StageEvent[] }, event: K, nth = 0): StageEvent {
  const found = run.events.filter((one) => one.event === event)[nth];
  if (!found) throw new Error(`no ${event} among ${run.events.map((one) => one.event).join(', ') || 'no events'}`);
  return found;
}

/** Names of the events, without footfalls unless asked for. */
export function names(run: { events: Partial<StageEvent>[] }, all = false): string[] {
  return run.events.map(({ event }) => event!).filter((event) => all || event !== 'footfall');
}
