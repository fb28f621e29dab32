import {
  script,
  type Ability,
  type Character,
  type InputRow,
  type Motion,
  type Phase,
  type Stage,
  type TracePiece,
} from 'apperin';
import { watch, type Happened, type Watched } from './watched.js';

/** A moment of what was played. */
export interface Sample {
  time: number;
  x: number;
  y: number;
  vx: number;
  vy: number;
  height: number;
  width: number;
  phase: Phase;
}

/** A stretch of play to play again: where it began, and the keys since. */
export interface Take {
  from: number;
  to: number;
  rate: number;
  /** The stage as it was when it began, which is never moved on. */
  origin: Stage;
  rows: readonly InputRow[];
  /** From the beginning of a level: a recording that can be saved. */
  whole: boolean;
}

/** How a take went: at each tick, as pieces of motion, and what happened. */
export interface Way {
  trail: Sample[];
  pieces: readonly TracePiece[];
  events: readonly Happened[];
}

/** A tuning on the keys of the take. */
export interface Ghost extends Way {
  name: string;
  motion: Motion;
}

/** The keys of a take, for whatever tuning: what was retuned while it was recorded belongs to the recording alone. */
export function keysOf({ rows }: Take): InputRow[] {
  return rows.filter(({ call }) => call === undefined || !('retune' in call));
}

/** A take that is being played with a tuning, for its trail. */
interface Playing {
  name: string;
  motion: Motion;
  trail: Sample[];
  watched: Watched;
  /** Samples of a trail that is shown no more. */
  spare: Sample[];
}

/** So many ticks are played in one frame while a number is dragged: about a millisecond's worth. */
const SLICE = 600;

/**
 * Plays a take with whatever tuning, beside the level. The live ghost follows the present tuning: while a number is dragged a long take is played on from
 * frame to frame, and the ghost of before stays until the new one is whole.
 */
export class Trails {
  live: Ghost | undefined;
  private wanted: Pick<Ghost, 'name' | 'motion'> | undefined;
  private playing: Playing | undefined;
  private spare: Sample[] = [];
  private readonly stage: Stage;
  private readonly hero: Character;
  private readonly start: Float64Array;
  /** How many samples a trail has. */
  private readonly count: number;

  /** @param abilities of the game's own, that the character has */
  constructor(
    readonly take: Take,
    private readonly abilities: readonly Ability[],
  ) {
    // What was held when it began is held.
    this.stage = take.origin.fork({ hero: script(keysOf(take)) });
    this.hero = this.stage.characters[0]!;
    this.start = this.stage.snapshot();
    this.count = Math.round((take.to - take.from) * take.rate) + 1;
  }

  /** The live ghost is to have this tuning: at once, or where the take is long, some frames later. */
  follow(name: string, motion: Motion, atOnce: boolean): void {
    this.wanted = { name, motion };
    if (this.live?.motion === motion && !this.playing) return;
    this.playing ??= this.begin(name, motion, this.spare);
    if (atOnce || this.count <= SLICE) this.finish();
  }

  /** A frame: a long take is played on. */
  frame(): void {
    this.playOn(SLICE);
  }

  /** How it goes with a tuning, at once. */
  wayOf(motion: Motion): Way {
    // One at a time is played.
    this.finish();
    const playing = this.begin('', motion, []);
    this.run(playing, Infinity);
    return ended(playing);
  }

  private finish(): void {
    while (this.playing) this.playOn(Infinity);
  }

  private playOn(ticks: number): void {
    const { playing, wanted } = this;
    if (!playing) return;
    this.run(playing, ticks);
    if (playing.trail.length < this.count) return;
    const { name, motion } = playing;
    this.spare = this.live?.trail ?? [];
    this.live = { name, motion, ...ended(playing) };
    this.playing = motion === wanted!.motion ? undefined : this.begin(wanted!.name, wanted!.motion, this.spare);
  }

  private begin(name: string, motion: Motion, spare: Sample[]): Playing {
    this.stage.restore(this.start);
    this.hero.retune(motion.full);
    return { name, motion, trail: [], watched: watch(this.stage, this.hero, this.abilities), spare };
  }

  private run({ motion, trail, spare }: Playing, ticks: number): void {
    const { stage, hero, take, count } = this;
    for (let i = 0; i < ticks && trail.length < count; i++) {
      if (trail.length > 0) stage.tick(1 / take.rate);
      // What is shown no more is written anew: nothing is left behind to be cleared away.
      const at = spare[trail.length] ?? { time: 0, x: 0, y: 0, vx: 0, vy: 0, height: 0, width: 0, phase: 'ground' };
      at.time = stage.time;
      at.x = hero.x;
      at.y = hero.y;
      at.vx = hero.vx;
      at.vy = hero.vy;
      at.height = hero.height;
      at.width = motion.width;
      at.phase = hero.phase;
      trail.push(at);
    }
  }
}

function ended({ trail, watched }: Playing): Way {
  watched.end();
  const { pieces, events } = watched;
  return { trail, pieces, events };
}
