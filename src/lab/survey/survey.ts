import {
  compileTuning,
  fingerprint,
  openStage,
  recordPieces,
  type Ability,
  type CompiledLevel,
  type InputRow,
  type Motion,
  type OpenLevel,
  type Opposed,
  type TracePiece,
  type Tuning,
} from '../../core/index.js';
import { STEERING, type PressMargin } from '../margins.js';
import { nearest } from '../nearest.js';
import type { Host } from '../host.js';
import { withoutMissing } from '../own.js';
import type { Short } from './bound.js';
import { Explorer, coversOf, type Explored } from './explore.js';
import type { KeptLink, PressTask, Wanted } from './task.js';
import type { Place, PlaceKind } from './places.js';
import { VERSION } from '../version.js';
import { withoutShapes, type Written } from './without.js';
import { MOST_CARE, proofOf, Replay, type End, type Proof } from './proof.js';
import { rowsTo } from './game.js';
import { Search, situationOf, type Doing, type Link, type Point } from './search.js';

/** What is known of a place: reached, with a proof; out of reach, with what it is short of; or neither. */
export type Answer = 'yes' | 'no' | 'not found';

/** What is asked of a level. */
export interface SurveyOptions {
  level: OpenLevel;
  tuning: Tuning | Motion;
  /** Where it begins: a spawn's name, or the middle of the feet; `start` unless given. */
  at?: string | readonly [number, number];
  /** What is asked for besides: spawns by name (all of them unless given), or points. */
  to?: readonly (string | readonly [number, number])[];
  /** Whether zones are asked for, too: they are unless it is `false`. */
  zones?: boolean;
  /** Named shapes that are switched off (`false`): it is surveyed as if they were not there. The level must be given as it is written then. */
  shapes?: Readonly<Record<string, boolean>>;
  /** By so much, s, each press of a way should be free to come sooner or later: ways that leave less are looked at further; 0.02 unless given. */
  care?: number;
  /** Tags of zones that no proof may enter. */
  avoid?: readonly string[];
  /** Spawns from which somebody is not lost: where it began unless given. */
  home?: readonly string[];
  /** Events of the core that may be spent; 2,000,000 unless given. */
  spend?: number;
  seed?: number;
  /** Links of an earlier survey (`surveyed.kept()`), of another tuning or of the level as it was: those that still lead where they led are known at once. */
  kept?: readonly KeptLink[];
  abilities?: readonly Ability[];
  opposed?: Opposed;
  /** What the game adds to the stage. Whatever that may do, nothing is ruled out then. */
  host?: Host;
  /** Asked between rounds, and told what is known: `false` ends the search early, and keeps that. */
  progress?: (state: { reached: number; open: number; spent: number }) => boolean;
}

/** A place that holds a body up. All in the level's own axes. */
export interface SurveyedPlace {
  id: number;
  /** The same after a retune, as long as the run of feet positions is. */
  key: string;
  mover: string | null;
  kind: PlaceKind;
  points: [number, number][];
  x1: number;
  y1: number;
  x2: number;
  y2: number;
  answer: Answer;
  /** When it is come to, s of stage time; null where it is not. */
  time: number | null;
  /** Of a `no`: by how little, and from which place. */
  short: { by: number; of: Short['of']; from: number | null } | null;
  /** Of what was not found: how many ways were tried, and which places it hangs on. */
  tried: number | null;
  hangsOn: number[] | null;
}

/** Something that was to be got to. */
export interface SurveyedTarget {
  name: string;
  kind: Wanted['kind'];
  x: number;
  y: number;
  answer: Answer;
  /** The place that it is come to from, and those on the way; null where it is not. */
  place: number | null;
  via: number[] | null;
  time: number | null;
  /** By so much each press and release of the proof may come sooner or later, s. */
  care: number | null;
  /** Rows that lead there from the beginning, of which none can be left out. */
  proof: InputRow[] | null;
}

/** A way from one place to another. */
export interface SurveyedLink {
  from: number;
  to: number;
  how: string;
  /** From when it begins until it is held up there, s. */
  time: number;
  start: { x: number; vx: number };
}

/** What was found of a level. */
export interface Survey {
  version: 1;
  /** Of the level and the tuning; and the version of what surveyed it. */
  hashes: { level: string; tuning: string; build: string };
  at: string | [number, number];
  seed: number;
  spend: number;
  spent: number;
  stopped: boolean;
  /** The level is surveyed as it starts, and nobody changes it. */
  /** What the game added, by its name; null where nothing was. */
  host: string | null;
  /** Named shapes that were switched off; null where it was surveyed as it is. */
  shapes: Record<string, 'off'> | null;
  /** How many places there are with each answer. */
  total: Record<Answer, number>;
  places: SurveyedPlace[];
  targets: SurveyedTarget[];
  links: SurveyedLink[];
  deadEnds: { place: number; home: string; answer: 'no' | 'not found' }[];
}

/** Events of the core that a survey may spend unless it is said. */
export const SPEND = 2_000_000;
const CARE = 0.02;
/** So much sooner presses of a link may come than it begins, s. */
const WAITS = 1;
/** So many links are looked at more closely, unless all are. */
const TIGHTEST = 20;

/** A survey, and what can be asked of it further. */
export class Surveyed {
  constructor(
    readonly survey: Survey,
    private readonly search: Search,
  ) {}

  /** Rows of links that were looked at. */
  private readonly own = new Map<number, readonly InputRow[]>();

  /** Rows that lead to a place from the beginning, of which none can be left out, and with how much care; undefined where it was not reached. */
  proof(place: number): Proof | undefined {
    const { search } = this;
    const point = search.reached.get(place);
    if (point === undefined) return undefined;
    return provedBy(search, { place: search.places.list[place]! }, point);
  }

  /** Links that can be played again with other numbers: what another survey may begin with. Plain data. */
  kept(): KeptLink[] {
    const { places, links } = this.search;
    return links.flatMap(({ from, to, move }) => (move === undefined ? [] : [{ from: places.list[from]!.key, to: places.list[to]!.key, move }]));
  } // prettier-ignore

  /**
   * How tight the presses of a link are: within which each may come sooner or later, or be held shorter or longer, and still lead to where the link does. Moments count from its start; directions are none.
   * @param known what `pressTask` was answered with elsewhere
   * @throws RangeError where there is no such link
   */
  presses(link: number, known?: readonly PressMargin[]): PressMargin[] {
    const task = this.pressTask(link);
    const { began, late } = task.link!;
    return (known ?? this.search.explorer.presses(task, this.linkRows(link))).map((margin) =>
      since(margin, began + late),
    );
  }

  /**
   * What another thread must know to say how tight the presses of a link are (`explorer.presses`).
   * @throws RangeError where there is no such link
   */
  pressTask(link: number): PressTask {
    const { explorer, links } = this.search;
    const one = links[link];
    if (one === undefined) throw new RangeError(`link is ${link}; there are ${links.length}`);
    const { before, after, began, to } = one;
    const { level, abilities, host } = explorer.scene;
    // It stands where it begins: where nothing else moves, it may as well have waited there, and then all of it can come sooner.
    const late = level.movers.length === 0 && abilities?.length === 0 && host === undefined && before.vx === 0 ? WAITS : 0;
    return { rows: after.rows, link: { from: situationOf(before), to, began, late } };
  } // prettier-ignore

  /**
   * How tight the presses are on the way to what was asked for, by its number among `targets`, directions aside; none where it was not come to.
   * @throws RangeError where there is no such target
   */
  targetPresses(target: number): PressMargin[] {
    const task = this.targetTask(target);
    return task === undefined ? [] : this.search.explorer.presses(task);
  }

  /**
   * The same as a task; undefined where it was not come to.
   * @throws RangeError where there is no such target
   */
  targetTask(target: number): PressTask | undefined {
    const { targets } = this.survey;
    const one = targets[target];
    if (one === undefined) throw new RangeError(`target is ${target}; there are ${targets.length}`);
    return one.proof === null ? undefined : { rows: one.proof };
  }

  /** What answers such tasks in this thread. */
  get explorer(): Explorer {
    return this.search.explorer;
  }

  /** The moment of stage time at which a link begins, s. */
  linkBegan(link: number): number {
    return this.search.links[link]!.began;
  }

  /** Rows that play a link from the beginning on: the way to where it begins, and those of its own, of which none can be left out. */
  linkProof(link: number): InputRow[] {
    return [...rowsTo(this.search.links[link]!.before), ...this.linkRows(link)];
  }

  private linkRows(link: number): readonly InputRow[] {
    const known = this.own.get(link);
    if (known !== undefined) return known;
    const rows = this.search.explorer.least(this.pressTask(link));
    this.own.set(link, rows);
    return rows;
  }

  /** The links that leave the least time for their presses, in closed form, by their numbers: the tightest first. */
  tightestLinks(most = TIGHTEST): number[] {
    const { bound, links, places } = this.search;
    const pressed = links.flatMap(({ began, after, from, to }, i) => {
      const presses = after.rows.some(({ time, action, value }) => time >= began && value > 0 && !STEERING.includes(action));
      return presses ? [{ i, spare: bound.spare(places.list[from]!, places.list[to]!) }] : [];
    });
    return pressed.sort((one, other) => one.spare - other.spare || one.i - other.i).slice(0, most).map(({ i }) => i);
  } // prettier-ignore

  /** The motion of a link, piece by piece. */
  linkPieces(link: number): TracePiece[] {
    const { explorer, links } = this.search;
    const { before, after } = links[link]!;
    const { game } = explorer;
    game.from(explorer.nodeOf(before));
    game.play(after.rows);
    const recorded = recordPieces(game.stage, game.hero);
    while (game.stage.time < after.time) game.tick();
    recorded.end();
    return [...recorded.pieces];
  }
}

/**
 * Where a character can get to in a level. What it says it can is played by the core, and can be played again; what it says it cannot is ruled out by what nothing in the level can do
 * better; the rest was not found. The same seed and spend give the same answer, however many threads play.
 * @param doing what plays the tasks of a round: this thread, one after the other, unless given
 * @throws TuningError, LevelError; RangeError where an option is out of range, or there is no such spawn or zone
 * @example
 * ```ts
 * const { survey: answer } = await survey({ level: { rows: ['....##', '@...##', '######'] }, tuning: brindle, spend: 5000 });
 * answer.total; // { yes: …, no: …, 'not found': … }
 * ```
 */
export async function survey(options: SurveyOptions, doing?: Doing): Promise<Surveyed> {
  const { spend = SPEND, seed = 1, avoid = [], home, kept, progress, at = 'start' } = options;
  if (!(spend > 0 && spend <= 1e12)) throw new RangeError(`spend is ${spend}; it must be above 0 and at most 1e12 events`);
  const scene = sceneOf(options);
  const { level } = scene;
  const tags = new Set(level.zones.flatMap((zone) => zone.tags));
  for (const tag of avoid) if (!tags.has(tag)) throw new RangeError(`no zone of the level has the tag ${tag}; there are ${listOf([...tags], tag)}`);
  const search = new Search(new Explorer(scene), { spend, seed, progress, ...(kept ? { kept } : {}) }, doing);
  await search.run();
  const homes = (home ?? []).map((name) => homeOf(search, name));
  const startsAt = search.root.place;
  const ends = home === undefined ? (startsAt >= 0 ? [startsAt] : []) : homes.flatMap((place) => (place === undefined ? [] : [place]));
  const back = await search.backTo(ends);
  search.closeBound();
  const places = placesOf(search);
  const targets = scene.wanted.map((wanted, i) => targetOf(search, wanted, i));
  const total: Record<Answer, number> = { yes: 0, no: 0, 'not found': 0 };
  for (const { answer } of places) total[answer]++;
  return new Surveyed(
    {
      version: 1,
      hashes: hashesOf(scene),
      at: typeof at === 'string' ? at : [...at],
      seed,
      spend,
      spent: search.spent,
      stopped: search.stopped,
      host: options.host === undefined ? null : options.host.name || 'host',
      shapes: offOf(options).length > 0 ? Object.fromEntries(offOf(options).map((name) => [name, 'off'])) : null,
      total,
      places,
      targets,
      links: search.links.map(linkOf),
      deadEnds: deadEndsOf(search, back, (home ?? [typeof at === 'string' ? at : at.join(',')]).join(', ')),
    },
    search,
  );
} // prettier-ignore

/**
 * What threads must know of a survey.
 * @example
 * ```ts
 * new Explorer(sceneOf({ level: { rows: ['@...', '####'] }, tuning: brindle }))
 * ```
 */
export function sceneOf({ level: given, tuning, at, to, zones = true, avoid = [], abilities = [], opposed, shapes, host, care = CARE }: SurveyOptions): Explored {
  if (!(care >= 0 && care <= MOST_CARE)) throw new RangeError(`care is ${care}; it must be 0 to ${MOST_CARE} s`);
  const { level } = openStage(levelOf({ level: given, shapes }));
  const motion = withoutMissing('launch' in tuning ? tuning : compileTuning(tuning), abilities);
  return { level, motion, ...(at === undefined ? {} : { at }), abilities, ...(opposed === undefined ? {} : { opposed }), ...(host === undefined ? {} : { host }), avoid, care, wanted: wantedOf(level, at, to, zones, avoid) };
} // prettier-ignore

/** The level that is surveyed, without what is switched off. @throws RangeError where that cannot be told in it */
export function levelOf({ level, shapes }: { level: OpenLevel; shapes?: SurveyOptions['shapes'] | undefined }): OpenLevel {
  const off = offOf({ shapes });
  if (off.length === 0) return level;
  if ('terrain' in level || 'compiled' in level) throw new RangeError('shapes can only be switched off in a level that is given as it is written');
  return withoutShapes(level as Written, off);
} // prettier-ignore

const offOf = ({ shapes = {} }: { shapes?: SurveyOptions['shapes'] | undefined }): string[] =>
  Object.keys(shapes).filter((name) => shapes[name] === false);

/** What is asked for: spawns and points, and zones by name. */
function wantedOf(level: CompiledLevel, at: SurveyOptions['at'] = 'start', to: SurveyOptions['to'], withZones: boolean, avoid: readonly string[]): Wanted[] {
  const sign = level.yPoints === 'up' ? 1 : -1;
  const names = to ?? [...level.spawns.keys()].filter((name) => name !== at);
  const points = names.map((one): Wanted => {
    if (typeof one !== 'string') return { name: one.join(','), kind: 'point', left: one[0], right: one[0], y: one[1] * sign, top: one[1] * sign };
    const spawn = level.spawns.get(one);
    if (spawn === undefined) throw new RangeError(`there is no spawn ${one}; the level has ${listOf([...level.spawns.keys()], one)}`);
    return { name: one, kind: 'spawn', left: spawn.x, right: spawn.x, y: spawn.y * sign, top: spawn.y * sign };
  });
  if (!withZones) return points;
  const zones = level.zones.filter((zone) => !zone.tags.some((tag) => avoid.includes(tag))).map(({ name, pieces }): Wanted => ({ name, kind: 'zone', left: Math.min(...pieces.map((piece) => piece.left)), right: Math.max(...pieces.map((piece) => piece.right)), y: Math.min(...pieces.map((piece) => piece.bottom)), top: Math.max(...pieces.map((piece) => piece.top)) }));
  return [...points, ...zones.filter(({ name }, i) => zones.findIndex((zone) => zone.name === name) === i)];
} // prettier-ignore

function hashesOf({ level: { terrain }, motion }: Explored): Survey['hashes'] {
  const { x1, y1, x2, y2 } = terrain;
  const numbers = (of: unknown): number[] => (typeof of === 'number' ? [of] : Array.isArray(of) ? of.flatMap(numbers) : typeof of === 'object' && of !== null ? Object.values(of).flatMap(numbers) : typeof of === 'string' ? [...of].map((letter) => letter.charCodeAt(0)) : [of === true ? 1 : 0]);
  return { level: fingerprint(Float64Array.from([...x1, ...y1, ...x2, ...y2])), tuning: fingerprint(Float64Array.from(numbers(motion.full))), build: VERSION };
} // prettier-ignore

function homeOf({ places, explorer }: Search, name: string): number | undefined {
  const { level } = explorer.scene;
  const spawn = level.spawns.get(name);
  if (spawn === undefined) throw new RangeError(`there is no spawn ${name}; the level has ${listOf([...level.spawns.keys()], name)}`);
  // What it falls to from there.
  const sign = level.yPoints === 'up' ? 1 : -1;
  const below = places.list.filter(({ set, xs, ys, kind }) => set === 0 && kind !== 'ledge' && xs[0]! <= spawn.x && xs.at(-1)! >= spawn.x && Math.min(...ys) <= spawn.y * sign + 1e-6);
  return below.sort((one, other) => Math.max(...other.ys) - Math.max(...one.ys))[0]?.id;
} // prettier-ignore

function placesOf(search: Search): SurveyedPlace[] {
  const { places, explorer } = search;
  const { level } = explorer.scene;
  const sign = level.yPoints === 'up' ? 1 : -1;
  return places.list.map((place): SurveyedPlace => {
    const points = place.xs.map((x, i): [number, number] => [x + 0, place.ys[i]! * sign + 0]);
    const [[x1, y1], [x2, y2]] = [points[0]!, points.at(-1)!];
    const answer = answerOf(search, place);
    const short = answer === 'no' ? search.bound.short(place)! : undefined;
    return {
      id: place.id,
      key: place.key,
      mover: place.set === 0 ? null : level.movers[place.set - 1]!.name,
      kind: place.kind,
      points,
      x1,
      y1,
      x2,
      y2,
      answer,
      time: search.times.get(place.id) ?? null,
      short: short ? { by: short.by, of: short.of, from: short.from?.id ?? null } : null,
      tried: answer === 'not found' ? (search.tried.get(place.id) ?? 0) : null,
      hangsOn: answer === 'not found' ? hangsOn(search, place) : null,
    };
  });
}

function answerOf({ reached, bound }: Search, place: Place): Answer {
  return reached.has(place.id) ? 'yes' : bound.short(place) ? 'no' : 'not found';
}

/** Places that were not reached, and from which it would be. */
function hangsOn({ bound, reached }: Search, place: Place): number[] {
  const from = bound.via.get(place);
  return from === undefined || reached.has(from.id) ? [] : [from.id];
}

function replayOf({ explorer, first }: Search, end: End): Replay {
  return new Replay(explorer.game, explorer.nodeOf(first), end, explorer.spoils);
}

function provedBy(search: Search, end: End, point: Point): Proof | undefined {
  return proofOf(replayOf(search, end), rowsTo(point));
}

/** With its moments counted from another. */
function since(margin: PressMargin, start: number): PressMargin {
  const { at, until, lands, press } = margin;
  const from = <T extends number | null>(moment: T): T => (moment === null ? moment : ((moment as number) - start)) as T;
  return { ...margin, at: from(at), until: from(until), lands: { ...lands, time: from(lands.time) }, press: { ...press, earliest: from(press.earliest), latest: from(press.latest) } };
} // prettier-ignore

function targetOf(search: Search, wanted: Wanted, i: number): SurveyedTarget {
  const { level, motion } = search.explorer.scene;
  const sign = level.yPoints === 'up' ? 1 : -1;
  const { name, kind, left, right, y } = wanted;
  const known = search.found.get(i);
  const shown = { name, kind, x: (left + right) / 2, y: y * sign + 0 };
  if (known === undefined) return { ...shown, answer: search.bound.mayCome(i) ? 'not found' : 'no', place: null, via: null, time: null, care: null, proof: null };
  const proof = provedBy(search, kind === 'zone' ? { zone: name } : { covers: coversOf(wanted, motion) }, known.point);
  const via: number[] = [];
  for (let one: Point | undefined = known.point; one !== undefined; one = one.parent) if (one.place >= 0 && one.place !== via[0]) via.unshift(one.place);
  return { ...shown, answer: 'yes', place: via.at(-1) ?? null, via, time: proof?.time ?? known.time, care: proof?.care ?? null, proof: proof?.rows ?? null };
} // prettier-ignore

const linkOf = ({ from, to, how, time, start }: Link): SurveyedLink => ({ from, to, how, time, start });

/** Places from which there is no way back that was found. */
function deadEndsOf({ reached, never }: Search, back: ReadonlySet<number>, home: string): Survey['deadEnds'] {
  return [...reached.keys()]
    .filter((id) => !back.has(id))
    .sort((one, other) => one - other)
    .map((place) => ({ place, home, answer: never.has(place) ? 'no' : 'not found' }));
}

/** The names that there are, with the one that was probably meant. */
function listOf(names: readonly string[], wanted: string): string {
  const meant = nearest(wanted, names);
  return `${names.join(', ') || 'none'}${meant === undefined ? '' : ` (did you mean ${meant}?)`}`;
}
