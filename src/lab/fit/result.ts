import { compileTuning, fillTuning, type Tuning } from '../../core/index.js';
import { lowestOf, type Found } from './found.js';
import type { AcrossFit } from './fit-across.js';
import type { UpFit } from './fit-up.js';

/** A number as finely as its interval says: to a tenth of it, or finer. */
export function asFine({ value, within }: Pick<Found, 'value' | 'within'>): number {
  let digits = 0;
  for (let step = 1; step > within / 10 && digits < 9; step /= 10) digits++;
  return Number(value.toFixed(digits));
}

/**
 * A tuning with the numbers that were found, all others as they were.
 * @param height how high a plain jump of the tuning to start from goes, units
 */
export function merged(start: Tuning, found: Readonly<Record<string, Found>>, up: UpFit, across: AcrossFit, height: number): Tuning {
  const tuning = structuredClone(start) as unknown as Record<string, Record<string, unknown>>;
  const group = (name: string): Record<string, unknown> => (tuning[name] = { ...(typeof tuning[name] === 'object' ? tuning[name] : {}) });
  const value = (key: string): number => asFine(found[key]!);
  if ('jump.riseTime' in found && (up.charged || 'jump.height' in found)) {
    const { charged } = up;
    const jump = group('jump');
    for (const goal of ['baseGravity', 'launchSpeed', 'reach', 'airTime']) delete jump[goal];
    [jump.height, jump.riseTime] = [charged ? height : value('jump.height'), value('jump.riseTime')];
    const gravity = group('gravity');
    delete gravity.fallRamp;
    const isReleased = 'gravity.released' in found || 'gravity.cutTo' in found;
    if (isReleased) for (const key of ['released', 'cutTo']) delete gravity[key];
    // A lowest hop that was said goes where what letting go does was found, or where no jump is higher.
    if (isReleased || !(Number(jump.lowestHop) <= Number(jump.height))) delete jump.lowestHop;
    gravity.rising = 1;
    for (const key of ['falling', 'fallSpeed', 'apex', 'apexSpeed', 'released', 'cutTo']) if (`gravity.${key}` in found) gravity[key] = value(`gravity.${key}`);
    if (!('gravity.apex' in found) && !('gravity.apex' in up.fixed)) [gravity.apex, gravity.apexSpeed] = [1, 0];
    // How low a hop can be follows from how long a tap is at least.
    if ('jump.minHold' in found) jump.minHold = value('jump.minHold');
    if (charged) {
      const wound = group('charge');
      // How low it begins is known no better than by the lowest that was seen, unless keys were.
      if (start.charge === undefined && !('charge.lowest' in found)) wound.lowest = Number(lowestOf(up.flown).toFixed(2));
      for (const key of ['lowest', 'highest', 'fullIn']) if (`charge.${key}` in found) wound[key] = value(`charge.${key}`);
    }
    const heights = [0, 1, 2].flatMap((i) => (`airJumps.heights.${i}` in found ? [value(`airJumps.heights.${i}`)] : []));
    if (heights.length > 0) group('airJumps').heights = heights;
    // What was seen to fall faster does.
    const { fallSpeed } = fillTuning(start).gravity;
    if (!('gravity.fallSpeed' in found) && up.fastest > 0.98 * fallSpeed) gravity.fallSpeed = Math.ceil(1.25 * up.fastest);
  }
  const runs = Object.keys(found).filter((key) => key.startsWith('run.'));
  if (runs.length > 0) {
    const run = group('run');
    if (across.feel === 'eased') run.feel = 'eased';
    else if (run.feel !== undefined) run.feel = 'steady';
    for (const key of runs) {
      const [, one, two] = key.split('.');
      if (two === undefined) run[one!] = value(key);
      else run.air = { ...(typeof run.air === 'object' ? run.air : {}), [two]: value(key) };
    }
  }
  if (Object.keys(found).some((key) => key.startsWith('wall.'))) {
    const wall = group('wall');
    if ('wall.slideSpeed' in found) wall.slideSpeed = value('wall.slideSpeed');
    const jump = Object.fromEntries(['height', 'out'].flatMap((name) => (`wall.jump.${name}` in found ? [[name, value(`wall.jump.${name}`)]] : [])));
    if (Object.keys(jump).length > 0) wall.jump = { ...(typeof wall.jump === 'object' ? wall.jump : {}), ...jump };
  }
  compileTuning(tuning as Tuning);
  return tuning as Tuning;
} // prettier-ignore
