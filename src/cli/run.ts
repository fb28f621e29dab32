import type { StageEvent } from 'apperin';
import { writeEvents, writePieces, writeTrace } from 'apperin/files';
import { flights, remark as remarkOn } from 'apperin/lab';
import { CallError } from './exit.js';
import type { Shared } from './options.js';
import { playFiles } from './play.js';
import { number, print, printJson, table, wrote } from './print.js';
import { refuseOutput, writeOutput } from './write.js';

interface RunOptions extends Shared {
  at?: string;
  shapes?: string[];
  host?: string;
  trace?: string;
  events?: string;
  pieces?: string;
}

/** `apperin run`: play this input in this level: what happened? */
export async function run(files: readonly string[], options: RunOptions): Promise<void> {
  const kept = (['trace', 'events', 'pieces'] as const).filter((kind) => options[kind] !== undefined);
  for (const [i, kind] of kept.entries()) {
    const file = options[kind]!;
    refuseOutput(file, kind);
    const other = kept.slice(0, i).find((before) => options[before] === file);
    if (other !== undefined && file !== '-')
      throw new CallError(
        `--${other} and --${kind} are both ${file}, and ${other === 'trace' ? 'a trace is' : 'events are'} something else than ${kind}: name two files`,
      );
  }
  const { level, name, played } = await playFiles(files, options);
  const { rate } = played;
  if (options.trace !== undefined) await writeOutput(options.trace, 'trace', writeTrace(played));
  if (options.events !== undefined) await writeOutput(options.events, 'events', writeEvents(played.events));
  if (options.pieces !== undefined) await writeOutput(options.pieces, 'pieces', writePieces(played.pieces));
  const jumps = flights(played);
  if (options.json) {
    printJson({
      tuning: name,
      rate,
      ticks: played.last.tick,
      last: played.last,
      events: played.events,
      flights: jumps,
    });
    return;
  }
  print(`${name} in ${level.title ?? 'the level'}: ${number(played.last.time)} s at ${rate} ticks per second\n`);
  print(story(played.events));
  if (jumps.length > 0) {
    const cells = jumps.map((flight) => [
      flight.by,
      number(flight.start),
      ...[flight.time, flight.rise, flight.across, flight.touchdown].map((value) =>
        value === null ? '' : number(value),
      ),
    ]);
    print(
      `\n${table(['in the air', 'from, s', 'for, s', 'rise, units', 'across, units', 'touchdown, units/s'], cells, [false, true, true, true, true, true])}`,
    );
  }
  const { x, y, vx, vy, pose, support } = played.last;
  print(
    `\nAt the end: ${pose}, ${support === '' ? 'in the air' : `on the ${support}`}, at ${number(x)}, ${number(y)}, moving ${number(vx)}, ${number(vy)} units/s`,
  );
  for (const file of [options.trace, options.events, options.pieces]) wrote([file], options.quiet);
}

/** The events as a table: moment, event, where, how fast. */
function story(all: readonly Partial<StageEvent>[]): string {
  // Footfalls are for the sound; a story of them is long.
  const events = all.filter(({ event }) => event !== 'footfall');
  if (events.length === 0) return 'Nothing happened.';
  const cells = events.map((event) => [
    number(event.time!),
    event.event!,
    number(event.x!),
    number(event.y!),
    number(event.vx!, 2),
    number(event.vy!, 2),
    remarkOn(event),
  ]);
  return table(['time, s', 'event', 'x', 'y', 'vx', 'vy', ''], cells, [true, false, true, true, true, true, false]);
}
