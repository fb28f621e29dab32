import { openStage, rewind, type Character, type Driver, type Handler, type Save, type Stage, type Tuning } from 'apperin'; // prettier-ignore
import { climb, dash, sling, swim } from './abilities.js';
import belfry from './belfry.level.yaml';
import brindle, { follow } from './brindle.tuning.yaml';
import cellar from './cellar.level.yaml';
import cistern from './cistern.level.svg';
import { CRAB, patrol } from './crab.js';

const LEVELS = { cellar, cistern, belfry };
const ROOMS = ['cellar', 'cistern', 'belfry'] as const;
export type Room = (typeof ROOMS)[number];

const PEBBLE: Tuning = {
  body: { width: 0.24, height: 0.24 },
  run: { air: 'locked' },
  jump: { height: 3, riseTime: 0.8 },
};
const OWN = [dash, climb, swim, sling];

/** A game that is kept: every room, the one with Brindle in it, and the last lantern. */
export interface Kept {
  here: Room;
  at: string;
  rooms: Record<Room, Save>;
}

/** The rules of the undercroft: nothing in here knows of a page. */
export class Game {
  readonly rooms: Readonly<Record<Room, Stage>>;
  readonly hero: Character;
  readonly past;
  /** Where a fall leads back to: the last lantern, or the door since. */
  private at: string;

  /** @param told is told everything, too, once the game has dealt with it */
  constructor(driver: Driver, told: (...what: [...Parameters<Handler>, Game]) => void, kept?: Kept) {
    const again = (room: Room): Stage => openStage(LEVELS[room]).load(kept!.rooms[room], room === kept!.here ? { brindle: driver } : {}, { abilities: [...OWN, patrol] });
    const open = (room: Room): Stage => (kept ? again(room) : this.furnish(openStage(LEVELS[room]), room));
    this.rooms = { cellar: open('cellar'), cistern: open('cistern'), belfry: open('belfry') };
    const first = this.rooms[kept?.here ?? 'cellar'];
    this.hero = kept ? first.character('brindle') : first.add(brindle, { driver, name: 'brindle', groups: ['brindle'], abilities: OWN });
    follow(this.hero);
    this.at = kept?.at ?? 'start';
    for (const room of Object.values(this.rooms)) {
      room.listen((...what) => {
        this.rule(room, ...what);
        told(...what, this);
      });
      room.meet('brindle', 'crabs');
      room.meet('pebbles', 'crabs');
    }
    this.past = rewind(Object.values(this.rooms), { seconds: 30, rate: 120, forget: true, also: { keep: () => this.at, back: (at) => (this.at = at) } });
  } // prettier-ignore

  /** Crabs are where the level says. */
  private furnish(stage: Stage, room: Room): Stage {
    const own = { patrol: { reach: room === 'cistern' ? 0.8 : 1.8 } };
    for (const at of stage.level.spawns.keys())
      if (at.startsWith('crab')) stage.add({ ...CRAB, own }, { at, name: at, groups: ['crabs'], abilities: [patrol] });
    return stage;
  }

  /** The room in which Brindle is. */
  get here(): Room {
    return ROOMS.find((name) => this.rooms[name].characters.includes(this.hero))!;
  }
  get stage(): Stage {
    return this.rooms[this.here];
  }
  /** Pennies taken, and all that there are. */
  get pennies(): readonly [number, number] {
    const all = Object.values(this.rooms).flatMap(({ zones }) => zones.filter(({ tags }) => tags.includes('penny')));
    return [all.filter(({ on }) => !on).length, all.length];
  }
  get won(): boolean {
    return !this.rooms.belfry.hasZone('bell');
  }

  tick(dt: number, at?: number): void {
    this.stage.tick(dt, at);
    this.past.keep();
  }

  keep(): Kept {
    const { cellar, cistern, belfry } = this.rooms;
    return { here: this.here, at: this.at, rooms: { cellar: cellar.save(), cistern: cistern.save(), belfry: belfry.save() } };
  } // prettier-ignore

  private rule(room: Stage, { event, side, shape, zone, tags, x, y }: Parameters<Handler>[0], who: Character, other: Character | undefined): void {
    const { hero } = this;
    if (who.groups.includes('pebbles') && ['meet', 'bump', 'touchdown'].includes(event)) for (const one of [who, other]) if (one) room.remove(one);
    if (who !== hero) return;
    if (event === 'bump' && side === 'head' && shape.startsWith('sack')) room.setShape(shape, false);
    if (event === 'slung') room.add(PEBBLE, { at: [x + 0.5 * hero.facing, y - 0.5], name: `pebble ${room.time}`, groups: ['pebbles'] }).shove(14 * hero.facing, -0.5);
    if (event === 'meet' && side === 'bottom') {
      room.remove(other!);
      hero.hop(1.6);
      hero.freeze(0.07);
    } else if (event === 'out' || event === 'meet') {
      hero.place(this.at);
      hero.freeze(0.4);
    }
    if (event !== 'enter') return;
    if (tags.includes('penny') || tags.includes('bell')) room.setZone(zone, false);
    if (tags.includes('lantern')) this.at = zone;
    if (tags.includes('door')) hero.transfer(this.rooms[zone as Room], { at: (this.at = this.here) });
  } // prettier-ignore
}
