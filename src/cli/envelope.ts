import { stringify } from 'yaml';
import { envelopeFigure } from '../figures/index.js';
import { writeInput } from 'apperin/files';
import { arcs, envelopeBy } from 'apperin/lab';
import { remarkMissing } from './abilities.js';
import { asked } from './asked.js';
import { inThreads, mostThreads } from './threads.js';
import { figureFile, writeFigure } from './figure-file.js';
import { call } from './call.js';
import { CallError } from './exit.js';
import type { Long, Shared } from './options.js';
import { counter, print, printJson, remark, typed, wrote } from './print.js';
import { tuningOf } from './sheet.js';
import { writeBeside } from './write.js';

/** `apperin draw envelope`: everything that the feet can reach from one takeoff. */
export async function drawEnvelope(
  files: readonly string[],
  options: Shared & Long & { width?: number; cell?: number; below?: number; states?: number; reach?: string },
): Promise<void> {
  const { name, motion } = tuningOf(files, options);
  remarkMissing(motion, 'reckoned', options);
  figureFile('envelope', options);
  const way = options.reach === undefined ? undefined : options.reach.split(',').map(Number);
  if (way && (way.length !== 2 || way.some((value) => !Number.isFinite(value)))) throw new CallError(`--reach ${options.reach}: it must be x,y from the edge, y up: 4,2`);
  let interrupted = false;
  const count = counter('states', undefined, options);
  const found = await inThreads(options.workers ?? mostThreads(), (text) => remark(text, options.quiet), ({ run, stopped }) =>
    asked(() => envelopeBy(motion, {
      ...(options.cell === undefined ? {} : { cell: options.cell }),
      ...(options.below === undefined ? {} : { below: options.below }),
      ...(options.states === undefined ? {} : { most: options.states }),
      progress: (states) => {
        count(states);
        interrupted = stopped();
        return !interrupted;
      },
    }, (search, batch) => run('expand', { search, batch }))));
  count();
  const { cells, cell, cut, states, level } = found;
  const reached = way && cells.find(({ column, row }) => column === Math.floor(way[0]! / cell) && row === Math.floor(way[1]! / cell));
  const out = await writeFigure('envelope', envelopeFigure(found, arcs(name, motion)), options);
  const base = out === '-' ? 'envelope' : out.replace(/\.(svg|png)$/, '');
  const [levelFile, inputFile] = reached
    ? await writeBeside([
        { file: `${base}.level.yaml`, made: 'level', data: stringify({ title: 'The edge', ...level }) },
        { file: `${base}.input.csv`, made: 'input', data: writeInput(found.inputFor(reached)) },
      ])
    : [];
  if (way && !reached) call().status = 1;
  if (options.json) {
    printJson({ tuning: name, figure: out, cell, states, cut, cells, ...(way ? { reached: reached ?? null } : {}), ...(reached ? { level: levelFile, input: inputFile } : {}) });
    return;
  }
  wrote([out], options.quiet);
  wrote([levelFile, inputFile], options.quiet);
  remark(`${cells.length} cells of ${cell} units, from ${states} states${interrupted ? '; interrupted: there may be more' : cut ? '; cut short: --states says how many are tried' : ''}`, options.quiet);
  if (reached) print(`Play them: apperin run ${typed(levelFile!)} ${typed(files[0] ?? 'TUNING')} ${typed(inputFile!)} --seconds ${Math.floor((found.takeoff + reached.time) * 1e4) / 1e4}`);
  else if (way) print(`${options.reach} is not reached.`);
} // prettier-ignore
