import { stringify } from 'yaml';
import { envelopeFigure } from '../figures/index.js';
import { writeInput } from 'apperin/files';
import { arcs, envelope } from 'apperin/lab';
import { abilitiesHere, remarkMissing } from './abilities.js';
import { asked } from './asked.js';
import { figureFile, writeFigure } from './figure-file.js';
import { call } from './call.js';
import { CallError } from './exit.js';
import type { Shared } from './options.js';
import { number, print, printJson, remark, typed, wrote } from './print.js';
import { tuningOf } from './sheet.js';
import { writeBeside } from './write.js';

/** `apperin draw envelope`: everything that the feet can reach from one takeoff. */
export async function drawEnvelope(files: readonly string[], options: Shared & { width?: number; below?: number; reach?: string }): Promise<void> {
  const { name, motion } = tuningOf(files, options);
  remarkMissing(motion, 'reckoned', options);
  figureFile('envelope', options);
  const place = options.reach?.split(',').map(Number);
  if (place && (place.length !== 2 || place.some((value) => !Number.isFinite(value)))) throw new CallError(`--reach ${options.reach}: it must be x,y from the edge, y up: 4,2`);
  const found = asked(() => envelope(motion, { abilities: abilitiesHere(), ...(options.below === undefined ? {} : { below: options.below }) }));
  const { start, highest, farthest, exact, cut, bands, flats, level, flights } = found;
  const [x, y] = place ?? [NaN, NaN];
  const isWithin = place !== undefined && found.holds(x!, y!);
  // What the game's own moves reach besides is not known to its end.
  const keys = place && (isWithin || found.flights.length > 0) ? found.inputFor(x!, y!) : undefined;
  const out = await writeFigure('envelope', envelopeFigure(found, arcs(name, motion)), options);
  const base = out === '-' ? 'envelope' : out.replace(/\.(svg|png)$/, '');
  const [levelFile, inputFile] = keys
    ? await writeBeside([
        { file: `${base}.level.yaml`, made: 'level', data: stringify({ title: 'The edge', ...level }) },
        { file: `${base}.input.csv`, made: 'input', data: writeInput(keys.rows) },
      ])
    : [];
  if (place && !keys) call().status = 1;
  if (options.json) {
    const reached = place ? { reached: keys ? { x, y, time: keys.time } : null } : {};
    const own = flights.length > 0 ? { flights: flights.map(({ pieces: _, rows: __, ...flight }) => flight) } : {};
    printJson({ tuning: name, figure: out, start, highest, farthest, exact, cut, bands, flats, ...own, ...reached, ...(keys ? { level: levelFile, input: inputFile } : {}) });
    return;
  }
  wrote([out], options.quiet);
  wrote([levelFile, inputFile], options.quiet);
  remark(`highest ${number(highest)} units, as far as ${number(farthest)} from the edge at its height${exact ? '' : ': at most, nobody quite gets there'}${cut ? '; what flies on for longer is not followed' : ''}`, options.quiet);
  for (const action of new Set(flights.map((flight) => flight.action))) {
    const mine = flights.filter((flight) => flight.action === action);
    remark(`with one press of ${action}, as played: highest ${number(Math.max(...mine.map((flight) => flight.highest)))} units, as far as ${number(mine.reduce((most, flight) => Math.max(most, flight.farthest || 0), 0))}`, options.quiet);
  }
  const modules = (options.abilities ?? []).map((file) => ` --abilities ${typed(file)}`).join('');
  if (keys) print(`Play them: apperin run ${typed(levelFile!)} ${typed(files[0] ?? 'TUNING')} ${typed(inputFile!)} --seconds ${keys.time}${modules}`);
  else if (place) print(isWithin || flights.length > 0 ? `No keys are known that reach ${options.reach}.` : `${options.reach} is not reached.`);
} // prettier-ignore
