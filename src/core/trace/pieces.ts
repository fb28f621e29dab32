import { exp, shed } from '../elementary.js';
import { MAX, MAY, MVX, MVY, MX, MY } from '../movers/moving.js';
import type { Character } from '../stage/character.js';
import type { Stage } from '../stage/stage.js';
import type { Body } from '../state/body.js';
import { COMES_OUT, ENDS_AT, GOES, KIND, NOW } from '../state/clock.js';
import { FACING, FRAME, HEIGHT, PHASE, type Phase, SUPPORT, SUPPORTS, type Support, X, Y } from '../state/layout.js';
import { D, LINK, PAX, PAY, PJY, PVX, PVY, PX, PY, RATE, U } from '../sweep/path.js';

/**
 * A piece of motion, as it was played: the middle of the feet at t seconds after `from` is x[0] + x[1]·t + x[2]·t² + x[3]·t³, and the same for y; with `fades`,
 * fades.x·(1 − e^(−rate·t)) and fades.y·(1 − e^(−rate·t)) come on top. Units, in the level's own axes.
 */
export interface TracePiece {
  /** s of stage time; from the first moment to the last of a run each piece begins where the one before ends. */
  from: number;
  until: number;
  support: Support;
  phase: Phase;
  facing: number;
  /** Height of the hitbox, units. */
  height: number;
  /** The mover that carries it; empty where none does. What carries it is in the coefficients. */
  mover: string;
  x: number[];
  y: number[];
  fades?: { rate: number; x: number; y: number };
}

/**
 * Starts recording a character as pieces of motion: what a trace samples, these say exactly, in far fewer numbers.
 * @returns the pieces so far, the present one up to the present moment; and a function that ends it
 * @example
 * ```ts
 * const way = recordPieces(mill, hero);
 * mill.tick(1 / 60);
 * way.end();
 * ```
 */
export function recordPieces(stage: Stage, who: Character): { readonly pieces: readonly TracePiece[]; end(): void } {
  const ended: TracePiece[] = [];
  const begun = stage.time;
  const end = who.eachPiece((body) => {
    const piece = pieceOf(body, body.clock[ENDS_AT]!);
    if (piece.until > begun) ended.push(from(piece, begun));
  });
  let last: TracePiece | undefined;
  return {
    get pieces() {
      const present = last ?? who.presentPiece((body) => pieceOf(body, stage.time));
      return present.until > Math.max(present.from, begun) ? [...ended, from(present, begun)] : ended;
    },
    end() {
      last ??= who.presentPiece((body) => pieceOf(body, stage.time));
      end();
    },
  };
}

/** A piece that had begun before the recording did is told from there. */
function from(piece: TracePiece, time: number): TracePiece {
  if (piece.from >= time) return piece;
  const t = time - piece.from;
  const shifted = ([a = 0, b = 0, c = 0, d = 0]: readonly number[]): number[] =>
    trimmed([a + t * (b + t * (c + t * d)), b + t * (2 * c + 3 * t * d), c + 3 * t * d, d]);
  const { x, y, fades } = piece;
  const gone = fades ? shed(fades.rate * t) : 0;
  const left = fades ? exp(-fades.rate * t) : 0;
  const [sx, sy] = [shifted(x), shifted(y)];
  return {
    ...piece,
    from: time,
    x: fades ? [sx[0]! + fades.x * gone, ...sx.slice(1)] : sx,
    y: fades ? [sy[0]! + fades.y * gone, ...sy.slice(1)] : sy,
    ...(fades && { fades: { rate: fades.rate, x: fades.x * left, y: fades.y * left } }),
  };
}

/** What a body does from the beginning of its present piece to a moment. */
function pieceOf({ s, path, clock, frame, ySign, phases, level }: Body, until: number): TracePiece {
  const moves = clock[KIND] === GOES || clock[KIND] === COMES_OUT;
  const carrier = s[FRAME]!;
  const up = (value: number): number => value * ySign + 0;
  const rate = moves ? path[RATE]! : 0;
  const fades = rate > 0 ? path[D]! / rate : 0;
  const linked = rate > 0 && path[LINK] !== 0;
  const x = moves
    ? [path[PX]! + frame[MX]!, (rate > 0 ? path[U]! : path[PVX]!) + frame[MVX]!, ((rate > 0 ? 0 : path[PAX]!) + frame[MAX]!) / 2]
    : [s[X]! + frame[MX]!, frame[MVX]!, frame[MAX]! / 2]; // prettier-ignore
  const y = !moves
    ? [s[Y]! + frame[MY]!, frame[MVY]!, frame[MAY]! / 2, 0]
    : linked
      ? [path[PY]! + frame[MY]!, path[LINK]! * path[U]! + frame[MVY]!, frame[MAY]! / 2, 0]
      : [path[PY]! + frame[MY]!, path[PVY]! + frame[MVY]!, (path[PAY]! + frame[MAY]!) / 2, path[PJY]! / 6];
  return {
    from: clock[NOW]!,
    until,
    support: SUPPORTS[s[SUPPORT]!]!,
    phase: phases[s[PHASE]!]!,
    facing: s[FACING]!,
    height: s[HEIGHT]!,
    mover: carrier > 0 ? level.movers[carrier - 1]!.name : '',
    x: trimmed(x),
    y: trimmed(y.map(up)),
    ...(fades !== 0 && { fades: { rate, x: fades, y: linked ? up(path[LINK]! * fades) : 0 } }),
  };
}

/** Without the noughts at its end; at least one number. */
function trimmed(list: readonly number[]): number[] {
  let length = list.length;
  while (length > 1 && list[length - 1] === 0) length--;
  return list.slice(0, length).map((value) => value + 0);
}

/**
 * Where the middle of the feet is in a piece, and how fast it goes.
 * @param time s of stage time, within the piece
 * @example
 * ```ts
 * for (const piece of recordPieces(mill, hero).pieces) placeIn(piece, piece.from);
 * ```
 */
export function placeIn(
  { from: start, x, y, fades }: TracePiece,
  time: number,
): { x: number; y: number; vx: number; vy: number } {
  const t = time - start;
  const at = ([a = 0, b = 0, c = 0, d = 0]: readonly number[]): number => a + t * (b + t * (c + t * d));
  const speed = ([, b = 0, c = 0, d = 0]: readonly number[]): number => b + t * (2 * c + 3 * t * d);
  const gone = fades ? shed(fades.rate * t) : 0;
  const pull = fades ? fades.rate * exp(-fades.rate * t) : 0;
  return {
    x: at(x) + (fades?.x ?? 0) * gone,
    y: at(y) + (fades?.y ?? 0) * gone,
    vx: speed(x) + (fades?.x ?? 0) * pull,
    vy: speed(y) + (fades?.y ?? 0) * pull,
  };
}
