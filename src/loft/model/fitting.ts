import { compileTuning, valueOfKey, type Motion } from 'apperin';
import { readCapture, type Edit } from 'apperin/files';
import type { Capture } from 'apperin/lab';
import type { FitAsked, FitTold, FoundNumber } from './fit-worker.js';
import { saidBy } from './handles.js';
import type { Loft } from './loft.js';
import { RELEASES, numbersOf, pairOf } from './ranges.js';

/** So many of a capture's places are drawn. */
const DRAWN = 4000;
/** A capture that goes higher than so many units is taken to be in pixels, of which a unit has so many. */
const HIGH = 20;
const PIXELS = 16;

/** A capture as it is laid over the level, in the level's own axes; moments in s. */
export interface Laid {
  time: readonly number[];
  points: readonly (readonly [number, number])[];
}

/** The numbers of a motion that somebody admires: of a capture that was dropped on the level, or of a jump that was drawn over it. */
export class Fitting {
  version = 0;
  /** Whether the pointer draws a jump. */
  isSketching = false;
  /** What was drawn, in the level's own axes. */
  sketch: readonly (readonly [number, number])[] = [];
  capture: { name: string; text: string; read: Capture; laid: Laid; scale: number } | undefined;
  numbers: readonly FoundNumber[] = [];
  cannotTell: readonly string[] = [];
  rms = 0;
  /** The tuning with all that was found. */
  motion: Motion | undefined;
  isLooking = false;
  wrong = '';
  private worker: Worker | undefined;
  private question = 0;

  constructor(private readonly loft: Loft) {}

  private changed(): void {
    this.version++;
    this.loft.tell();
  }

  /** What is found is of: empty where nothing is. */
  get what(): string {
    return this.capture?.name ?? (this.sketch.length > 1 ? 'the jump that you drew' : '');
  }

  turnSketching(on: boolean): void {
    this.isSketching = on;
    this.changed();
  }

  /** Draws on, through a place of the level. */
  draw(x: number, y: number, isFirst: boolean): void {
    if (isFirst) this.forget();
    this.sketch = [...this.sketch, [x, y]];
    this.changed();
  }

  /** The curve is whole: its numbers are looked for. */
  drawn(): void {
    const [first] = this.sketch;
    if (!first) return;
    const up = -this.loft.camera.down;
    this.ask({ sketch: this.sketch.map(([x, y]) => [x - first[0], (y - first[1]) * up] as const) });
  }

  /** A capture is laid over the level, from where the character stands. @throws FileError where it is none */
  open(name: string, text: string): void {
    const [one] = readCapture(text, { file: name });
    if (!one) throw new Error('there is no capture in it');
    const ys = [...one.y];
    const high = ys.reduce((most, y) => Math.max(most, y), -Infinity) - ys.reduce((least, y) => Math.min(least, y), Infinity);
    this.forget();
    this.capture = { name, text, read: one, laid: { time: [], points: [] }, scale: high > HIGH ? PIXELS : 1 };
    this.loft.tab = 'fit';
    this.look();
  } // prettier-ignore

  /** How many of the capture's lengths are a unit. */
  setScale(scale: number): void {
    const { capture } = this;
    if (!capture || !(scale > 0) || scale === capture.scale) return;
    this.capture = { ...capture, scale };
    this.look();
  }

  private look(): void {
    const { name, text, read, scale } = this.capture!;
    this.capture = { ...this.capture!, laid: this.laid(read, scale, 1) };
    this.ask({ file: name, text, scale });
  }

  /** @param way 1 where the capture's y points up */
  private laid({ time, x, y }: Capture, scale: number, way: number): Laid {
    const { session, camera } = this.loft;
    const every = Math.ceil(time.length / DRAWN);
    const kept = Array.from({ length: Math.ceil(time.length / every) }, (_, i) => i * every);
    const { hero } = session;
    const place = (i: number): readonly [number, number] => [hero.x + (x[i]! - x[0]!) / scale, hero.y - ((y[i]! - y[0]!) / scale) * way * camera.down];
    return { time: kept.map((i) => time[i]! - time[0]!), points: kept.map(place) };
  } // prettier-ignore

  forget(): void {
    this.stop();
    this.sketch = [];
    this.capture = this.motion = undefined;
    this.numbers = this.cannotTell = [];
    this.wrong = '';
    this.changed();
  }

  private stop(): void {
    this.worker?.terminate();
    this.worker = undefined;
    this.isLooking = false;
    this.question++;
  }

  private ask(about: { sketch: readonly (readonly [number, number])[] } | { file: string; text: string; scale: number }): void {
    this.stop();
    this.isLooking = true;
    this.wrong = '';
    const { question } = this;
    this.worker = new Worker(new URL('./fit-worker.ts', import.meta.url), { type: 'module' });
    this.worker.onmessage = ({ data }: MessageEvent<FitTold>) => {
      if (data.question !== this.question) return;
      this.isLooking = false;
      if ('wrong' in data) {
        this.wrong = data.wrong;
        this.numbers = [];
        this.motion = undefined;
      } else {
        ({ numbers: this.numbers, cannotTell: this.cannotTell, rms: this.rms } = data);
        this.motion = compileTuning(data.tuning);
        const { capture } = this;
        if (capture && data.yPoints === 'down') this.capture = { ...capture, laid: this.laid(capture.read, capture.scale, -1) };
      }
      this.changed();
    };
    this.worker.onerror = (event) => {
      this.wrong = event.message;
      this.isLooking = false;
      this.changed();
    };
    const { full } = this.loft.document.motion;
    this.worker.postMessage({ question, tuning: full, ...about } satisfies FitAsked);
    this.changed();
  } // prettier-ignore

  /** What a number is now. */
  now(key: string): unknown {
    const { motion } = this.loft.document;
    return JUMP.includes(key) ? numbersOf(motion)[key.slice(5)] : valueOfKey(motion.full, key);
  }

  /** Takes a number that was found, or all of them: one step to undo. */
  take(only?: string): void {
    const { loft } = this;
    const { document } = loft;
    const wanted = new Map(this.numbers.filter(({ key }) => only === undefined || key === only).map(({ key, value }) => [key, value]));
    const gesture = `fit ${++this.takes}`;
    const others = [...wanted].filter(([key]) => !JUMP.includes(key)).flatMap(([key, value]): Edit[] => {
      const instead = (RELEASES as readonly string[]).includes(key) ? RELEASES.filter((one) => one !== key) : [];
      return [{ key, value: value as Edit['value'] }, ...instead.map((one): Edit => ({ key: one, value: undefined }))];
    });
    if (others.length > 0) loft.edit(others, gesture);
    // The jump is said by two numbers together, whichever the file has.
    const { motion } = document;
    const of = (key: string, usual: number): number => Number(wanted.get(key) ?? usual);
    if (JUMP.some((key) => wanted.has(key))) loft.edit(saidBy(motion, pairOf(document.tuning), of('jump.height', motion.jumpHeight), of('jump.riseTime', motion.riseTime)), gesture);
    document.settle();
    this.changed();
  } // prettier-ignore
  private takes = 0;
}

const JUMP: readonly string[] = ['jump.height', 'jump.riseTime'];
