import type { PressMap, SurveyedPlace, Survey } from 'apperin/lab';

export type AskedPlace = Pick<SurveyedPlace, 'id' | 'points' | 'answer' | 'time' | 'short' | 'mover'>;

/** What the other thread is asked: to survey a level, for the way to a place of the last survey, or how tight a press on that way is: the jump that is near a point, or the tightest. */
export type Asked =
  | { question: number; text: string; file: string; tuning: unknown; at: readonly [number, number]; early?: boolean }
  | { place: number }
  | { tight: number; near?: readonly [number, number] };

/** What it tells. */
export type Told =
  | { kind: 'places'; question: number; places: readonly AskedPlace[]; total: Survey['total']; isDone: boolean }
  | { kind: 'way'; place: number; path: string; from: readonly [number, number]; time: number; care: number }
  | { kind: 'tight'; place: number; map: PressMap | undefined }
  | { kind: 'wrong'; question: number; message: string };

export type Way = Extract<Told, { kind: 'way' }>;

/** So long after the last change the level is asked again, ms. */
const STILL = 60;

/** Asks a level where the character gets to, in another thread: again whenever a number has changed, from the same place. */
export class Asking {
  places: readonly AskedPlace[] = [];
  total: Survey['total'] | undefined;
  /** Whether an answer is of the tuning as it is now, and all that was spent for it. */
  isFresh = false;
  isDone = false;
  wrong = '';
  /** The place that was pointed at, and the way to it where there is one. */
  place: number | undefined;
  way: Way | undefined;
  at: readonly [number, number] | undefined;
  /** How a press on the way goes together with its hold, while that is looked at. */
  tight: PressMap | 'asked' | 'none' | undefined;
  /** Abilities of the game's own that the other thread does not know: what is out of reach without them may be reached with them. */
  without: readonly string[] = [];
  /** The point that it is asked near. */
  private near: readonly [number, number] | undefined;
  private worker: Worker | undefined;
  private question = 0;
  private waits: ReturnType<typeof setTimeout> | undefined;

  constructor(
    private readonly tell: () => void,
    private readonly make: () => Worker,
  ) {}

  /** Somebody may ask soon: the other thread is there by then, and has begun to look. What it finds is told to nobody. */
  begin(text: string, file: string, tuning: unknown, at: readonly [number, number]): void {
    this.thread().postMessage({ question: ++this.question, text, file, tuning, at, early: true } satisfies Asked);
  }

  private thread(): Worker {
    if (this.worker) return this.worker;
    this.worker = this.make();
    this.worker.onmessage = ({ data }: MessageEvent<Told>) => this.told(data);
    return this.worker;
  }

  /** Asks anew: what was known stays to be seen until there is an answer. */
  ask(text: string, file: string, tuning: unknown, at: readonly [number, number]): void {
    this.at = at;
    this.isFresh = this.isDone = false;
    clearTimeout(this.waits);
    const question = ++this.question;
    this.waits = setTimeout(
      () => this.thread().postMessage({ question, text, file, tuning, at } satisfies Asked),
      STILL,
    );
    this.tell();
  }

  private told(told: Told): void {
    // What answers an earlier question is of another tuning.
    if ('question' in told && (told.question !== this.question || this.at === undefined)) return;
    if (told.kind === 'places') {
      this.places = told.places;
      this.total = told.total;
      this.isFresh = true;
      this.isDone = told.isDone;
      this.wrong = '';
      if (this.place !== undefined) this.point(this.place);
    } else if (told.kind === 'way') {
      if (told.place === this.place) this.way = told.path === '' ? undefined : told;
      // Numbers have changed: so has what is looked at.
      if (this.way === undefined) this.tight = undefined;
      else if (this.tight !== undefined) this.askTight();
    } else if (told.kind === 'tight') {
      if (told.place === this.place && this.tight !== undefined) this.tight = told.map ?? 'none';
    } else {
      this.wrong = told.message;
      this.isDone = true;
    }
    this.tell();
  }

  /** Somebody points at a place: how it is come to. */
  point(place: number | undefined): void {
    if (place !== this.place) this.way = this.tight = undefined;
    this.place = place;
    if (place !== undefined) this.worker?.postMessage({ place } satisfies Asked);
    this.tell();
  }

  /** How tight is a jump of the way, the one near a point or the tightest: its press against its hold. */
  askTight(near = this.near): void {
    if (this.place === undefined || this.way === undefined) return;
    this.near = near;
    this.tight ??= 'asked';
    this.worker?.postMessage({ tight: this.place, ...(near ? { near } : {}) } satisfies Asked);
    this.tell();
  }

  /** Nobody looks at it any more. */
  leaveTight(): void {
    this.tight = this.near = undefined;
    this.tell();
  }

  /** The place nearest to a point, within a distance, units. */
  nearest(x: number, y: number, within: number): number | undefined {
    let best: { id: number; off: number } | undefined;
    for (const { id, points } of this.places)
      for (let i = 0; i < points.length; i++) {
        const off = offOf(points[i]!, points[i + 1] ?? points[i]!, x, y);
        if (off <= within && !(best && best.off <= off)) best = { id, off };
      }
    return best?.id;
  }

  stop(): void {
    clearTimeout(this.waits);
    // It leaves what it was at, and stays: it knows the level, and what led where.
    this.question++;
    this.worker?.postMessage({ place: -1 } satisfies Asked);
    this.places = [];
    this.total = this.place = this.way = this.at = this.tight = this.near = undefined;
    this.isFresh = this.isDone = false;
    this.wrong = '';
  }

  /** In words: how much of the level is come to, and what is pointed at. */
  get said(): string {
    if (this.wrong !== '') return this.wrong;
    const { total } = this;
    if (!total) return 'asking the level…';
    const all = `${total.yes} place${total.yes === 1 ? '' : 's'} reached from there, ${total.no} out of reach, ${total['not found']} not found${this.without.length > 0 ? `, all without ${this.without.join(', ')}` : ''}${this.isDone ? '' : '; still looking'}`; // prettier-ignore
    const place = this.places.find(({ id }) => id === this.place);
    return place ? `${answerOf(place, this.way)}; ${all}` : `${all}. Point at one`;
  }
}

const say = (value: number): string => String(Number(value.toPrecision(3)));

function answerOf({ answer, time, short }: AskedPlace, way: Way | undefined): string {
  if (answer === 'yes') return `reached after ${say(way?.time ?? time ?? 0)} s${way ? `, each press ${say(way.care * 1000)} ms sooner or later` : ''}`;
  if (answer === 'no') return short ? (short.of === 'shut' ? 'out of reach: no free way' : `out of reach: ${say(short.by)} units short of ${short.of === 'both' ? 'height and distance' : short.of}`) : 'out of reach';
  return 'not found, and not ruled out';
} // prettier-ignore

/** How far a point is from a stretch, units. */
function offOf([x1, y1]: readonly [number, number], [x2, y2]: readonly [number, number], x: number, y: number): number {
  const [dx, dy] = [x2 - x1, y2 - y1];
  const length = dx * dx + dy * dy;
  const t = length === 0 ? 0 : Math.min(1, Math.max(0, ((x - x1) * dx + (y - y1) * dy) / length));
  return Math.sqrt((x - x1 - t * dx) ** 2 + (y - y1 - t * dy) ** 2);
}
