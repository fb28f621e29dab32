import type { Matrix } from 'ml-matrix';
import { ln } from '../../core/index.js';
import { ACROSS_KEYS, airborneIn, coursePart, type AcrossKey, type Airborne, type Course } from './across.js';
import { coursesOf } from './courses.js';
import type { UpFit } from './fit-up.js';
import { mended } from './mend.js';
import { cut } from './pieces.js';
import { badnessOf, covarianceFor, leastSquares, missOf, settle, type Part, type Squares } from './squares.js';
import type { Segment, Unexplained } from './supports.js';
import { isBare, middleOf, noiseOf, type Track } from './track.js';
import { AT_WALL } from './up/releases.js';
import type { AcrossCut, AtWall } from './walls.js';

/** A stretch of running of one of the captures. */
export interface Ran {
  capture: number;
  course: Course;
  part: Part;
  noise: number;
}

/** What was found of motion across. */
export interface AcrossFit {
  keys: AcrossKey[];
  values: number[];
  covariance: Matrix;
  feel: 'steady' | 'eased';
  ran: Ran[];
  /** How often each was seen. */
  counts: Record<AcrossKey, number>;
  segments: Segment[];
  unexplained: (Unexplained & { capture: number })[];
}

/** What another feel must meet the motion better by, in variances: so much that chance does it never. */
const BETTER = 25;
/** A stretch that misses by so many times as much as the others has another cause; what misses by less, in variances, has none. */
const ODD = 5;
const FINE = 4;
/** So many changes of speed may have been missed in a stretch: with more of them anything can be met. */
const MISSED = 2;
const NOT_LIKE = 'no tuning runs like that and like the rest';
/** So far as it runs in this time, s, no stretch is off that is met. */
const HOPELESS = 0.03;
const ROUNDS = 3;
/** What is off from where it goes by more than this share of the run is on its way; its speed is taken from so long before until so long after, s. */
const ON_ITS_WAY = 0.12;
const NEARLY = 0.025;
/** A course of fewer samples says nothing. */
const FEWEST = 12;
/** A change of speed takes about so long, s. */
const AROUND = 0.2;
/** Times to begin from, s. */
const STARTS = [0.03, 0.08, 0.16, 0.35, 0.8] as const;

const NONE = Object.fromEntries(ACROSS_KEYS.map((key) => [key, 0])) as Record<AcrossKey, number>;

type Feel = 'steady' | 'eased';
type Solved = { feel: Feel; squares: Squares; ran: Ran[] };
type Seen = { capture: number; course: Course; noise: number; track: Track };

/** The numbers of motion across. */
export function fitAcross(tracks: readonly Track[], cuts: readonly AcrossCut[], speed: number, up: UpFit, walls: readonly AtWall[]): AcrossFit {
  const airborne = tracks.map((_, capture) => airborneIn(up.segments, capture));
  const seen = speed > 0 ? tracks.map((track, capture) => ({ capture, track, noise: cuts[capture]!.noise, ...coursesOf(track, cuts[capture]!.pieces, speed, cuts[capture]!.noise) })) : [];
  const segments = seen.flatMap(({ capture, segments: of }) => of.map((one) => ({ ...one, capture })));
  const unexplained: AcrossFit['unexplained'] = seen.flatMap(({ capture, unexplained: of }) => of.map((one) => ({ ...one, capture })));
  const courses = seen.flatMap(({ courses: of, ...rest }) => of.flatMap((course) => upToWall(course, rest.track, walls.filter(({ capture }) => capture === rest.capture))).map((course): Seen => ({ ...rest, course }))).filter(({ capture, course, track: { time } }) => {
    // What moves it up or down may move it across as well.
    const carried = up.unexplained.some((one) => one.capture === capture && one.why !== AT_WALL && one.from < time[course.until - 1]! && one.to > time[course.from]! && course.turns.some((turn) => turn.time > one.from - AROUND && turn.time < one.to));
    if (carried) unexplained.push({ capture, from: time[course.from]!, to: time[course.until - 1]!, why: 'it changes its speed where it is not explained how it goes up and down' });
    return !carried;
  });
  if (courses.length === 0) return { keys: [], values: [], covariance: covarianceFor(leastSquares([], []), [], false), feel: 'steady', ran: [], counts: { ...NONE }, segments, unexplained };
  const search = new Search(courses, airborne, speed);
  const { squares, ran, feel } = search.run();
  const covariance = covarianceFor(squares, ran.map(({ part }) => part), tracks.some(({ x }, i) => isBare(x, cuts[i]!.noise)));
  for (const { course, part } of ran) course.turns.forEach((turn, i) => (turn.time = part.own[i + 1]!));
  return { keys: search.keys, values: squares.shared, covariance, feel, ran, counts: search.counts, segments, unexplained: [...unexplained, ...search.unexplained] };
} // prettier-ignore

/** Motion across, cut into pieces. */
export function acrossCut({ time, x }: Track): AcrossCut {
  const noise = noiseOf(time, x);
  return { noise, pieces: cut(time, x, noise, 8 + 2 * ln(time.length)).pieces };
}

/** The part of a course before it meets a wall, or leaves one at once. */
function upToWall(course: Course, { time }: Track, walls: readonly AtWall[]): Course[] {
  const ends = walls.flatMap(({ from, kick }) => [from, ...(kick ? [kick.time] : [])]).filter((at) => at > time[course.from]! && at < time[course.until - 1]!);
  if (ends.length === 0) return [course];
  const end = Math.min(...ends);
  const until = time.findIndex((moment) => moment > end);
  const turns = course.turns.filter((turn) => turn.time < end - NEARLY);
  return until - course.from > FEWEST && (turns.length > 0 || course.way !== 0) ? [{ ...course, until, turns }] : [];
} // prettier-ignore

class Search {
  readonly unexplained: AcrossFit['unexplained'] = [];
  keys: AcrossKey[] = [];

  constructor(
    private used: Seen[],
    private readonly airborne: readonly Airborne[],
    /** About how fast it runs, units/s. */
    private readonly speed: number,
  ) {}

  run(): Solved {
    const { speed } = this;
    this.keys = keysOf(this.counts);
    this.withoutHopeless(this.startOf('steady', speed));
    if (this.used.length === 0) return this.solve('steady', (this.keys = []));
    const steady = this.mend(this.solve('steady', this.startOf('steady', speed)));
    const eased = this.solve('eased', this.startOf('eased', speed), steady.squares.badness);
    const isEased = steady.squares.badness - eased.squares.badness > BETTER * Math.max(0.5, eased.squares.sum / eased.squares.samples);
    return this.withoutOdd(isEased ? this.mend(eased) : steady);
  } // prettier-ignore

  /** How often each key was seen to act. */
  get counts(): Record<AcrossKey, number> {
    const counts = { ...NONE };
    for (const { course, capture, track } of this.used) {
      let way: number = course.way;
      const air = this.airborne[capture]!;
      course.turns.forEach((turn, i) => {
        const isIn = air.some(([from, to]) => turn.time > from && turn.time < to);
        // What lands or takes off on its way goes on by the other numbers.
        const next = course.turns[i + 1]?.time ?? track.time[course.until - 1]!;
        const changes = air
          .flat()
          .filter(
            (at) =>
              at > turn.time &&
              at < next &&
              Math.abs(speedNear(track, at) - turn.way * this.speed) > ON_ITS_WAY * this.speed,
          );
        for (const flies of changes.length > 0 ? [isIn, !isIn] : [isIn]) {
          const key = (name: 'upIn' | 'stopIn' | 'turnIn'): AcrossKey => (flies ? `run.air.${name}` : `run.${name}`);
          if (turn.way === 0) counts[key('stopIn')]++;
          else if (way === -turn.way) counts[key('turnIn')]++;
          if (turn.way !== 0) counts[key('upIn')]++;
        }
        way = turn.way;
      });
      if (course.way !== 0 || course.turns.some((turn) => turn.way !== 0)) counts['run.speed']++;
    }
    return counts;
  }

  private partOf({ capture, course, noise, track }: Seen, feel: Feel, turns = course.turns): Part {
    return coursePart({ ...course, turns }, this.keys, feel, this.airborne[capture]!, track.time, track.x, noise);
  }

  private solve(feel: Feel, start: readonly number[], rival = Infinity): Solved {
    const ran = this.used.map((one): Ran => ({ capture: one.capture, course: one.course, noise: one.noise, part: this.partOf(one, feel) }));
    return { feel, ran, squares: leastSquares(ran.map(({ part }) => part), start, { rival }) };
  } // prettier-ignore

  /** The times to begin from: of a few the ones that come nearest. */
  private startOf(feel: Feel, speed: number): number[] {
    const starts = STARTS.map((times) => {
      const shared = this.keys.map((key) => (key === 'run.speed' ? speed : times));
      const parts = this.used.map((one) => this.partOf(one, feel));
      for (const part of parts) settle(part, shared, 4);
      return { shared, sum: parts.reduce((sum, part) => sum + badnessOf(part, shared), 0) };
    });
    return starts.reduce((one, other) => (other.sum < one.sum ? other : one)).shared;
  }

  /** What is far from any motion of that speed is left out before it leads others astray. */
  private withoutHopeless(shared: readonly number[]): void {
    this.used = this.used.filter((one) => {
      const { course, track, capture } = one;
      const isFar = (part: Part): boolean => Math.sqrt(missOf(part, shared)) * one.noise > HOPELESS * this.speed;
      const part = this.partOf(one, 'steady');
      settle(part, shared);
      if (!isFar(part)) return true;
      const turns = mended(course, track.time[course.until - 1]!, (list) => this.partOf(one, 'steady', list), shared, (other) => !isFar(other));
      const again = this.partOf(one, 'steady', turns);
      settle(again, shared);
      if (isFar(again) || turns.length > course.turns.length + MISSED) {
        this.unexplained.push({ capture, from: track.time[course.from]!, to: track.time[course.until - 1]!, why: NOT_LIKE });
        return false;
      }
      course.turns = turns;
      return true;
    });
    this.keys = keysOf(this.counts);
  } // prettier-ignore

  /** Up to how much a stretch may miss, of which all miss by so much. */
  private fine({ ran, squares }: Solved): { each: number[]; most: number } {
    const each = ran.map(({ part }) => missOf(part, squares.shared));
    return { each, most: Math.max(ODD * middleOf(each), FINE) };
  }

  /** Changes of keys that were missed, or were none, where stretches are not met. */
  private mend(solved: Solved): Solved {
    let best = solved;
    for (let round = 0; round < ROUNDS; round++) {
      const { each, most } = this.fine(best);
      const odd = this.used.filter((_, i) => each[i]! > most);
      if (odd.length === 0) break;
      const { shared } = best.squares;
      for (const one of odd) {
        const { course, track } = one;
        course.turns = mended(course, track.time[course.until - 1]!, (turns) => this.partOf(one, best.feel, turns), shared, (part) => missOf(part, shared) <= most);
      }
      const values = new Map(this.keys.map((key, i) => [key, shared[i]!]));
      this.keys = keysOf(this.counts);
      best = this.solve(best.feel, this.keys.map((key) => values.get(key) ?? values.get(key.replace('.air', '') as AcrossKey) ?? STARTS[1]));
    }
    return best;
  } // prettier-ignore

  /** What still has another cause is left out. */
  private withoutOdd(solved: Solved): Solved {
    const { each, most } = this.fine(solved);
    // What is off by so much is not met at all, were it the only one.
    const hopeless = this.used.filter(({ noise }, i) => Math.sqrt(each[i]!) * noise > HOPELESS * this.speed);
    const far = this.used.filter((_, i) => each[i]! > most);
    const odd = far.length > this.used.length / 2 ? hopeless : [...new Set([...far, ...hopeless])];
    if (odd.length === 0) return solved;
    for (const { capture, course, track } of odd) this.unexplained.push({ capture, from: track.time[course.from]!, to: track.time[course.until - 1]!, why: NOT_LIKE });
    this.used = this.used.filter((one) => !odd.includes(one));
    // What is left is begun anew where that was far off.
    if (hopeless.length > 0 && this.used.length > 0) return this.run();
    const values = new Map(this.keys.map((key, i) => [key, solved.squares.shared[i]!]));
    this.keys = keysOf(this.counts);
    return this.solve(solved.feel, this.keys.map((key) => values.get(key)!));
  } // prettier-ignore
}

/** About how fast it goes at a moment, units/s. */
function speedNear({ time, x }: Track, at: number): number {
  const [from, to] = [Math.max(0, time.findIndex((moment) => moment > at - NEARLY)), time.findIndex((moment) => moment > at + NEARLY)];
  const until = to < 0 ? time.length - 1 : to;
  return until > from ? (x[until]! - x[from]!) / (time[until]! - time[from]!) : 0;
} // prettier-ignore

const keysOf = (counts: Record<AcrossKey, number>): AcrossKey[] => ACROSS_KEYS.filter((key) => counts[key] > 0);
