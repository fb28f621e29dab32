import { readdirSync } from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { writeEvents, writeTrace } from '../files/index.js';
import { play, sheet } from '../lab/index.js';
import { figure, toPng } from './draw.js';
import { loadInput, loadLevel, loadTuning } from './load.js';
import type { Shared } from './main.js';
import { number, print, printJson } from './print.js';
import { compiled, sheetTable } from './sheet.js';
import { writeWhole } from './write.js';

/** The demo scenario that ships with the package: the tide mill at Saltreave. */
export const DEMO = fileURLToPath(new URL('../../data/tide-mill/', import.meta.url));

/** `apperin demo`: everything, on the demo data. */
export async function demo(options: Shared): Promise<void> {
  const out = options.out ?? join('out', 'demo');
  const { tuning } = loadTuning(join(DEMO, 'brindle.tuning.yaml'));
  const motion = compiled(tuning);
  const { compiled: level, level: data } = loadLevel(join(DEMO, 'yard.level.yaml'));
  const say = (text: string): void => {
    if (!options.json && !options.quiet) print(text);
  };
  const written: string[] = [];
  const write = async (name: string, content: string | Uint8Array): Promise<void> => {
    const file = join(out, name);
    await writeWhole(file, content);
    written.push(file);
  };
  say('Brindle, a brass mill-hand, in the tide mill at Saltreave.\n');
  const measures = sheet(motion);
  await write('sheet.txt', `${sheetTable(measures)}\n`);
  const value = (id: string): string => number(measures.find((measure) => measure.id === id)!.value, 2);
  say(
    `A full jump rises ${value('apexHeight')} units in ${value('riseTime')} s and reaches ${value('reach')} across; a tap rises ${value('lowestHop')}.`,
  );
  for (const kind of ['arcs', 'time', 'speed'] as const) {
    const svg = figure(kind, [{ name: 'brindle', motion }]);
    await write(`${kind}.svg`, svg);
    await write(`${kind}.png`, await toPng(svg));
  }
  for (const file of readdirSync(DEMO)
    .filter((name) => name.endsWith('.input.csv'))
    .sort()) {
    const name = file.replace('.input.csv', '');
    const played = play({ level, tuning: motion, input: loadInput(join(DEMO, file)).rows });
    await write(`${name}.trace.csv`, writeTrace(played));
    await write(`${name}.events.jsonl`, writeEvents(played.events));
    const told = played.events
      .filter(({ event }) => event !== 'turned' && event !== 'footfall')
      .map(({ event, time, by }) => `${event}${by ? ` (${by})` : ''} ${number(time!, 2)} s`);
    say(`\n${name} in ${data.title}:\n  ${told.join('\n  ')}`);
  }
  if (options.json) printJson({ folder: out, files: written });
  else if (options.quiet) print(written.join('\n'));
  else
    say(
      `\nLook at ${join(out, 'arcs.png')} (the jump, to scale) and ${join(out, 'time.png')} (the same over time);\n${join(out, 'sheet.txt')} has every measure, the traces and events are beside it.`,
    );
}
