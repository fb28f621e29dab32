import { listOf } from '../nearest.js';
import { boxNumber } from '../meetings/boxes.js';
import { Meetings, type Whom, type Zones, isZones } from '../meetings/meetings.js';
import { IGNORES, TUNED } from '../state/layout.js';
import { Character, type Driver } from './character.js';
import { compileTuning } from '../tuning/motion.js';
import { checkDriver } from '../input/intents.js';
import type { Tuning } from '../tuning/tuning.js';
import type { Ability } from '../abilities/ability.js';
import { abilities } from '../abilities/index.js';
import type { Area, Box } from '../asking/area.js';
import { type Overlap, type OverlapList, type OverlapOptions, overlap } from '../asking/overlap.js';
import { type RayEnd, type RayOptions, type Touch, ray } from '../asking/ray.js';
import { type SweepOptions, type Sweeper, type Thrown, sweep, sweeperOf } from '../asking/sweep.js';
import type { Mover, Outline } from '../terrain/level.js';
import type { CompiledLevel } from '../terrain/world.js';
import { showValue } from '../tuning/words.js';
import { BareStage, type OpenLevel, compiledOf } from './bare.js';
import { cellAt, markNumber } from './cells.js';
import { ChangedGround, type OwnLevel, ownLevel } from './ground.js';
import { type Save, SAVE_VERSION, abilitiesOf, checkSave, printOf, readNumbers, savedNumbers } from './save.js';

export type { AddOptions } from './bare.js';

/** A running level with all that a game may ask of it. */
export class Stage extends BareStage {
  private sweeper: Sweeper | undefined = undefined;
  private meetings: Meetings | undefined = undefined;

  /** @internal */
  constructor(level: CompiledLevel) {
    super(level, ownLevel(level));
  }

  protected override another(): this {
    return new Stage(this.level) as this;
  }

  /**
   * What an area overlaps at this moment, as the stage is: shapes that are switched off are not there, movers are where they are. To touch it is not enough. Each shape
   * is listed once for each of its kinds and layers (all without a name count as one), then zones, then characters by their hitbox.
   * @param area a box, a circle, or the corners of a convex outline, in the level's own axes, units
   * @param into an answer to be used again, `{ count: 0, found: [] }` at first: then nothing is allocated, and the first `into.count` entries of the list count
   * @throws RangeError naming an argument that is out of range
   */
  overlap(area: Area, options?: OverlapOptions, into?: OverlapList): Overlap[] {
    return overlap(this.sight, area, options, into);
  }

  /**
   * The first thing that a straight line meets at this moment; undefined where its way is free. What blocks from one side only is met from that side only; a line that
   * begins within something solid meets it there.
   * @param from [x, y] in the level's own axes, units
   * @param to [x, y], or `{ direction, length }`
   * @param into an answer to be used again: then nothing is allocated
   * @throws RangeError naming an argument that is out of range
   */
  ray(from: readonly [number, number], to: RayEnd, options?: RayOptions, into?: Touch): Touch | undefined {
    return ray(this.sight, from, to, options, into);
  }

  /**
   * The first thing that a box meets which is moved straight, or thrown, through the level as it is at this moment; undefined where its way is free. What it only touches, and what it goes away from, is not
   * in its way; one that begins within something solid meets that there.
   * @param box by its corner nearest the origin, in the level's own axes, units
   * @param by [dx, dy], units; or `{ velocity, acceleration, seconds }`: then `time` says when
   * @param into an answer to be used again: then nothing is allocated
   * @throws RangeError naming an argument that is out of range
   */
  sweep(box: Box, by: readonly [number, number] | Thrown, options?: SweepOptions, into?: Touch): Touch | undefined {
    return sweep(this.sight, (this.sweeper ??= sweeperOf(this.sight)), box, by, options, into);
  }

  /**
   * Lets characters meet: from now on both are told `meet` when they come to overlap, and `part` when they no longer do, at the very moment, with the side on which
   * the other is and how fast they came together. They still do not block each other. A snapshot has who overlaps: on a stage that goes on from it, whom is asked for at that moment has met already. Like listeners, what is asked here belongs to this stage
   * alone.
   * @param a a character, or the name of a group that characters belong to
   * @param b the same; or `{ zone: name }` or `{ tag }`: zones of that name, or with that tag. Then who carries the box is told alone, with `zone` and `tags`
   * @param options settings, each of which may be left out
   * @param options.boxes the boxes that are to meet, of `a` and of `b`; an empty name for the hitbox; both hitboxes unless given. Zones have none
   * @returns a function that ends it
   * @throws RangeError where a character is not on this stage or carries no such box, or the level has no such zone
   */
  meet(a: Whom, b: Whom | Zones, { boxes = ['', ''] }: { boxes?: readonly [string, string?] } = {}): () => void {
    const [own, its = ''] = boxes;
    if (isZones(b)) {
      const { zones } = this.level;
      const names = 'zone' in b ? zones.map(({ name }) => name) : zones.flatMap(({ tags }) => tags);
      const [name, what] = 'zone' in b ? [b.zone, 'zone'] : [b.tag, 'zone with the tag'];
      if (!names.includes(name))
        throw new RangeError(`there is no ${what} ${name}; the level has ${listOf([...new Set(names)], name)}`);
      if (its !== '') throw new RangeError(`a zone has no box ${its}`);
    }
    [a, b].forEach((whom, i) => {
      if (typeof whom === 'string' || (i === 1 && whom === b && isZones(b))) return;
      const body = this.cast.bodyOf(whom as Character);
      if (!body)
        throw new RangeError(
          'those who meet are characters of this stage, or groups by their names; the second may be { zone } or { tag }',
        );
      const box = i === 0 ? own : its;
      if (box !== '') boxNumber(body, box);
    });
    if (this.meetings === undefined) {
      this.meetings = new Meetings(this.cast, this.clock, this.here, this.zonesOff);
      this.meetings.renew(this.metAlready);
      this.play.meetings = this.meetings;
    }
    return this.meetings.add({ a, b, boxes: [own, its] });
  }

  /**
   * Lets a cell of a level in rows hold something else: digging, breaking, building. What stood on what is gone falls; who is within what comes is pushed out. The edges
   * around the cell are those that a level would have that was opened with it; the time that this takes does not grow with the level. Part of snapshots and saves. Asked by an
   * event handler, it waits until all have been told.
   * @param x a place in the cell, in the level's own axes, units
   * @param y the same, up or down
   * @param mark a character as in the rows; `.` for nothing
   * @throws RangeError where the level is drawn, the place is beyond its rows, it has no such mark, or the mark makes a zone that the level did not have there
   */
  setMark(x: number, y: number, mark: string): void {
    const cell = cellAt(this.level, x, y);
    const code = markNumber(this.level, mark);
    const ground = (this.ground ??= this.newGround());
    ground.cells!.check(cell, code);
    this.telling.ask(() => ground.setCell(cell, code));
  }

  /**
   * What a cell of a level in rows holds: its mark, `.` for nothing.
   * @param x a place in the cell, in the level's own axes, units
   * @param y the same, up or down
   * @throws RangeError where the level is drawn, or the place is beyond its rows
   */
  markAt(x: number, y: number): string {
    const cell = cellAt(this.level, x, y);
    const code = this.ground?.cells!.codeOf(cell) ?? this.level.rows!.grid.cells[cell]!;
    for (const [mark, number] of this.level.rows!.numbers) if (number === code) return mark;
    return '.';
  }

  /**
   * Adds a shape to the level, as one that it was drawn with: a bridge that is let down, a wall that grows. Who is within it is pushed out. It keeps its own corners, as all shapes with a name. Part of
   * snapshots and saves. Asked by an event handler, it waits until all have been told.
   * @param outline in the level's own axes, units
   * @throws LevelError where the outline is wrong; RangeError where it has no name, or one that is taken
   */
  addShape(outline: Outline, name: string): void {
    this.telling.ask((this.ground ??= this.newGround()).added.adding(outline, name));
  }

  /**
   * Takes away a shape that was added. What stood on it falls. Asked by an event handler, it waits until all have been told.
   * @throws RangeError where none of that name was added
   */
  removeShape(name: string): void {
    this.telling.ask((this.ground ??= this.newGround()).added.removing(name));
  }

  /**
   * Adds a mover, as one that the level was opened with: it begins its way at this moment; who is within it is pushed out. Part of snapshots and saves. Asked by an event handler,
   * it comes at the event's moment, when all have been told.
   * @param mover as levels have them, in the level's own axes, units
   * @throws LevelError where it is wrong; RangeError where there is a mover of that name, or there would be more than 1000
   */
  addMover(mover: Mover): void {
    const act = (this.ground ??= this.newGround()).movers.adding(mover);
    this.telling.ask(act);
  }

  /**
   * Takes a mover away, one that was added or one that the level has. What stood on it falls, with the velocity that it had. Asked by an event handler, it goes at the event's
   * moment, when all have been told.
   * @throws RangeError where there is none of that name
   */
  removeMover(name: string): void {
    const mover = this.mover(name);
    const ground = (this.ground ??= this.newGround());
    this.telling.ask(() => ground.movers.remove(mover));
  }

  protected override newGround(): ChangedGround {
    return new ChangedGround(this.here as OwnLevel, {
      bodies: this.bodies,
      movers: this.moved!,
      clock: this.clock,
      refit: () => this.refit(),
      plan: () => this.play.planMovers(),
      off: this.off,
      zonesOff: this.zonesOff,
      bring: (body) => this.play.bring(body),
      forget: () => {
        this.drawn = undefined;
        this.sweeper = undefined;
        this.meetings?.lookAgain();
      },
    });
  }

  /**
   * A character by its name.
   * @throws RangeError where there is none
   */
  character(name: string): Character {
    const found = this.characters.find((one) => one.name === name);
    if (!found)
      throw new RangeError(
        `there is no character ${name}; there are ${listOf(
          this.characters.map((one) => one.name),
          name,
        )}`,
      );
    return found;
  }

  /**
   * Everything that is not constant as plain JSON, to be kept in a file or a browser's storage, with all tunings that the characters have had. Drivers keep their own
   * state; the level and abilities of the game's own are not in it.
   */
  save(): Save {
    const snapshot = this.snapshot();
    const met = this.metNow;
    let at = snapshot.length - met.length - this.bodies.reduce((sum, { s }) => sum + s.length + 1, 2);
    return {
      apperin: 'save',
      version: SAVE_VERSION,
      level: printOf(this.level),
      time: this.time,
      stage: savedNumbers(snapshot, 0, at++),
      next: this.cast.nextId,
      shapes: this.ground?.added.present ?? [],
      movers: this.ground?.movers.present ?? [],
      met: [...met],
      characters: this.bodies.map(({ name, index, tunings, installed, s, boxes, groups, ySign }, i) => {
        at++;
        const { x, y, facing, opposed } = this.characters[i]!;
        const { layers } = this.level;
        return {
          name,
          id: index,
          at: [x, y],
          facing,
          opposed,
          ignores: layers.filter((_, k) => k > 0 && (s[IGNORES]! & (1 << k)) !== 0),
          tunings: tunings.map(({ full }) => full),
          groups: [...groups],
          boxes: Object.fromEntries(
            boxes.map(({ name: box, left, bottom, right, top }) => [
              box,
              [left, ySign > 0 ? bottom : -top + 0, right - left, top - bottom] as const,
            ]),
          ),
          tuned: s[TUNED]!,
          abilities: installed.map(({ ability }) => ability.name).filter((one) => !(one in abilities)),
          state: savedNumbers(snapshot, at, (at += s.length)),
        };
      }),
    };
  }

  /**
   * Goes on from a save: those are there who were, with what held then held still, but by a driver that plays live. It plays on to the bit.
   * @param drivers who plays them, by the names of the characters
   * @param options settings, each of which may be left out
   * @param options.abilities of the game's own, which characters of the save have
   * @param options.changed `place`: the level, a tuning's rules or the form of saves may have changed since; the characters are put where they were (out of what is solid there),
   * with the tunings that they had, and all else begins anew
   * @returns the stage
   * @throws RangeError where the stage is not a new one, or saying what is wrong with the save: none at all, one of another level or version, an ability that is missing, a number
   * that is none; TuningError where a tuning is wrong. The stage is then as it was
   */
  load(
    save: Save,
    drivers: Readonly<Record<string, Driver>> = {},
    options: { abilities?: readonly Ability[]; changed?: 'place' } = {},
  ): this {
    if (this.ticks > 0 || this.bodies.length > 0)
      throw new RangeError('a save is loaded into a new stage: one without characters that has not ticked');
    const { changed } = options;
    if (changed !== undefined && changed !== 'place')
      throw new RangeError(`changed is ${showValue(changed)}; it must be place, or left out`);
    checkSave(save);
    for (const [name, driver] of Object.entries(drivers)) {
      if (!save.characters.some((one) => one.name === name))
        throw new RangeError(
          `there is no character ${name} in the save; there are ${listOf(
            save.characters.map((one) => one.name),
            name,
          )}`,
        );
      checkDriver(driver);
    }
    if (changed === undefined) {
      const print = printOf(this.level);
      if (save.version !== SAVE_VERSION)
        throw new RangeError(
          `the save has version ${save.version}, this is ${SAVE_VERSION}; with { changed: 'place' } the characters are put where they were`,
        );
      if (save.level !== print)
        throw new RangeError(
          `the save is of another level (${save.level}, this is ${print}); with { changed: 'place' } the characters are put where they were`,
        );
    }
    try {
      this.takeSave(save, drivers, options.abilities ?? [], changed === 'place');
    } catch (error) {
      for (const who of [...this.characters]) this.remove(who, { keep: false });
      this.cast.nextId = 0;
      throw error;
    }
    return this;
  }

  private takeSave(
    save: Save,
    drivers: Readonly<Record<string, Driver>>,
    given: readonly Ability[],
    placed: boolean,
  ): void {
    const numbers: number[] = [];
    if (!placed) {
      const { shapes = [], movers = [] } = save;
      if (shapes.length > 0) (this.ground ??= this.newGround()).added.knowSaved(shapes);
      for (const mover of movers) (this.ground ??= this.newGround()).movers.know(mover);
      readNumbers(save.stage, 'stage', numbers);
      numbers.push(save.characters.length);
    }
    save.characters.forEach((one, i) => {
      const { name, at, facing, opposed, tunings, tuned, state, id, groups, boxes } = one;
      const ignores = one.ignores.filter((layer) => this.level.layers.includes(layer));
      const motions = tunings.map((tuning) => compileTuning(tuning as Tuning));
      const own = abilitiesOf(one, given);
      this.cast.nextId = id;
      const driver = drivers[name];
      this.add(motions[tuned]!, {
        name,
        at,
        facing,
        opposed,
        ignores,
        groups,
        boxes,
        abilities: own,
        ...(driver ? { driver } : {}),
      });
      this.bodies[i]!.tunings.splice(0, 1, ...motions);
      if (placed) {
        this.bodies[i]!.s[TUNED] = tuned;
        return;
      }
      numbers.push(id);
      readNumbers(state, `characters.${i}.state`, numbers);
    });
    this.cast.nextId = Math.max(save.next, this.cast.nextId);
    if (placed) return;
    numbers.push(save.met.length / 4);
    readNumbers(save.met, 'met', numbers);
    this.restore(Float64Array.from(numbers));
    for (const who of this.characters) if (who.driver?.isLive === true) who.letGo();
  }
}

/**
 * Opens a level to run in.
 * @throws LevelError where the level is wrong
 * @example
 * ```ts
 * const mill = openStage({ rows: ['@...', '####'] });
 * const hero = mill.add({ jump: { height: 3 } });
 * mill.tick(1 / 60);
 * ```
 */
export function openStage(level: OpenLevel): Stage {
  return new Stage(compiledOf(level));
}
