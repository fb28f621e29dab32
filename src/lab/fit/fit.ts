import { apexOf, arcPieces, compileTuning, type Tuning } from '../../core/index.js';
import { merged } from './result.js';
import { CaptureError, trackOf, type Capture } from './capture.js';
import { speedOf } from './courses.js';
import { acrossCut, fitAcross, type AcrossFit } from './fit-across.js';
import { fitUp, type UpFit } from './fit-up.js';
import { foundOf, type Found } from './found.js';
import { pressesOf, type Pressed } from './presses.js';
import { residualOf, type Residual } from './residual.js';
import { stretchesOf, type Stretch } from './stretches.js';
import { steppedOf, type Stepped } from './stepped.js';
import { cut } from './pieces.js';
import { cleaned, noiseOf, type Track } from './track.js';
import type { Segment, Unexplained } from './supports.js';
import { fitWalls, wallsIn } from './walls.js';

/** What is known of a capture. */
export interface FitOptions {
  /** Lengths of the capture in a unit: 16 where it is in pixels and a unit has 16 of them; 1 unless given. */
  scale?: number;
  /** Which way y points in the capture; unless given it is found from which way things fall. */
  yPoints?: 'up' | 'down';
  /** What is not found is as in this tuning. */
  tuning?: Tuning;
}

/** The numbers of a motion. */
export interface Fit {
  version: 1;
  /** By key of a tuning. */
  found: Record<string, Found>;
  /** What the captures do not tell. */
  cannotTell: { key: string; why: string }[];
  /** Pairs of keys that can hardly be told apart. */
  correlated: [string, string][];
  /** Presses and releases that changed the motion. */
  presses: Pressed[];
  segments: Segment[];
  residual: Residual;
  unexplained: (Unexplained & { capture: number })[];
  stepped: Stepped | null;
  tuning: Tuning;
  /** Which way y was taken to point in the captures. */
  yPoints: 'up' | 'down';
}

/** What was fitted, and how it goes. */
export interface Fitted extends Fit {
  stretches: Stretch[];
}

/**
 * Which numbers make the motion of captures, each with how sure it is: by least squares of the closed forms that the core moves by.
 * @throws CaptureError where it is no capture of a motion; TuningError where the tuning to start from is wrong
 * @example
 * ```ts
 * const { rows: filmed } = play({ level: openGround(), tuning: brindle, input: rows, seconds: 3 });
 * fit({ time: filmed.map(({ time }) => time), x: filmed.map(({ x }) => x), y: filmed.map(({ y }) => y) }).found;
 * ```
 */
export function fit(captures: Capture | readonly Capture[], options: FitOptions = {}): Fitted {
  const { scale = 1, yPoints, tuning = {} } = options;
  if (!(scale > 0 && Number.isFinite(scale))) throw new RangeError(`scale is ${scale}; it must be above 0`);
  const before = compileTuning(tuning);
  const height = apexOf(arcPieces(before, before.launch)).y;
  const list = 'time' in captures ? [captures] : captures;
  if (list.length === 0) throw new CaptureError('there is no capture');
  const seen = list.map((capture) => trackOf(capture, scale, yPoints ?? 'up'));
  const upright = yPoints !== undefined || fallsDown(seen);
  const clean = (upright ? seen : seen.map((track) => ({ ...track, y: track.y.map((y) => -y) }))).map(cleaned);
  const tracks = clean.map(({ track }) => track);
  const cuts = tracks.map(acrossCut);
  const ups = tracks.map(({ time, y }) => {
    const noise = noiseOf(time, y);
    return { noise, pieces: cut(time, y, noise).pieces };
  });
  const speed = speedOf(tracks, cuts);
  const walls = tracks.flatMap((track, i) => wallsIn(track, i, cuts[i]!, ups[i]!, speed));
  const up: UpFit = fitUp(tracks, ups, walls, options.tuning && { charges: tuning.charge !== undefined, band: { 'gravity.apex': before.full.gravity.apex, 'gravity.apexSpeed': before.full.gravity.apexSpeed } });
  const across: AcrossFit = fitAcross(tracks, cuts, speed, up, walls);
  const atWalls = fitWalls(tracks, walls, up, ups, options.tuning && before);
  const { found, cannotTell, correlated } = foundOf(up, across, atWalls, height);
  if (Object.keys(found).length === 0) throw new CaptureError(`${list[0]!.name ?? 'the capture'}: neither a jump nor a run can be made out in it${up.unexplained[0] ? ` (${up.unexplained[0].why})` : ''}`);
  return {
    version: 1,
    found,
    cannotTell,
    correlated,
    presses: pressesOf(tracks, up, across),
    segments: [...up.segments, ...across.segments].sort((one, other) => one.capture - other.capture || one.from - other.from),
    residual: residualOf(up, across, scale, clean.reduce((sum, one) => sum + one.strays, 0)),
    unexplained: [...up.unexplained, ...across.unexplained].sort((one, other) => one.capture - other.capture || one.from - other.from),
    stepped: steppedOf(tracks, up),
    tuning: merged(tuning, found, up, across, height),
    yPoints: yPoints ?? (upright ? 'up' : 'down'),
    stretches: stretchesOf(tracks, up, across),
  };
} // prettier-ignore

/** Whether things are accelerated downwards, as y points up. */
function fallsDown(tracks: readonly Track[]): boolean {
  let sum = 0;
  for (const { time, y } of tracks) {
    const noise = noiseOf(time, y);
    for (const { from, until, half } of cut(time, y, noise).pieces) {
      const lasts = time[until - 1]! - time[from]!;
      if (until - from >= 5 && Math.abs(half) * (lasts / 2) ** 2 > 5 * noise) sum += Math.sign(half) * lasts;
    }
  }
  return sum <= 0;
}
