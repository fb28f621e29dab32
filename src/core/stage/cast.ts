import type { Body } from '../state/body.js';
import type { Character, Driver } from './character.js';

interface Member {
  readonly body: Body;
  readonly character: Character;
  /** When it was there last, s of stage time, while it is not. */
  gone: number;
}

/** So many who may come back are few. */
const FEW = 16;

/** Who is on a stage, and who has been and may be again: going back in time brings back those who were removed meanwhile. */
export class Cast {
  /** Those who are there, in the order of their numbers: that in which they came first. */
  readonly bodies: Body[] = [];
  readonly characters: Character[] = [];
  /** Those of them that have a driver, and as what those know them. */
  readonly driven: Body[] = [];
  readonly players: Character[] = [];
  private readonly known = new Map<number, Member>();
  /** Those who have been removed for good, until all that they did is told. */
  private readonly leaving: number[] = [];
  /** No number is used twice on a stage. */
  nextId = 0;

  /** @param body with its number, where it has one on another stage already */
  enter(body: Body, character: Character, id = this.nextId): void {
    body.index = id;
    if (id >= this.nextId) this.nextId = id + 1;
    this.known.set(id, { body, character, gone: NaN });
    // Who has been here before has its place by its number.
    let at = this.bodies.length;
    while (at > 0 && this.bodies[at - 1]!.index > id) at--;
    this.bodies.splice(at, 0, body);
    this.characters.splice(at, 0, character);
    this.findDriven();
  }

  /** @param keep whether it may come back */
  leave(body: Body, keep: boolean, now: number): void {
    const at = this.bodies.indexOf(body);
    if (at >= 0) {
      this.bodies.splice(at, 1);
      this.characters.splice(at, 1);
    }
    this.known.get(body.index)!.gone = now;
    if (!keep) this.leaving.push(body.index);
    this.findDriven();
  }

  /** Forgets who was there before a moment, and not since: no state that is wanted has them. */
  forgetBefore(moment: number): void {
    if (this.known.size - this.bodies.length <= FEW) return;
    for (const [id, { body, gone }] of this.known) if (body.entry < 0 && gone < moment) this.known.delete(id);
  }

  /** A character that has been on this stage before and is not: as what it may come back. */
  before(character: Character): Body | undefined {
    let found: Body | undefined;
    for (const member of this.known.values())
      if (member.character === character && member.body.entry < 0) found = member.body;
    return found;
  }

  /** All is told: those who were removed for good are forgotten. */
  forget(): void {
    while (this.leaving.length > 0) {
      const id = this.leaving.pop()!;
      if (this.known.get(id)!.body.entry < 0) this.known.delete(id);
    }
  }

  /** What was removed has not been: the tick has not happened. */
  keepAll(): void {
    this.leaving.length = 0;
  }

  /** Who has a number, whether it is there or not. */
  numbered(id: number): Member | undefined {
    return this.known.get(id);
  }

  /** The body of a character, if that is on the stage. */
  bodyOf(who: Character): Body | undefined {
    return this.bodies[this.characters.indexOf(who)];
  }

  named(name: string): Body | undefined {
    return this.bodies.find((body) => body.name === name);
  }

  /**
   * Lets just these be there, in this order.
   * @param now stage time, s
   * @returns whether that changes anything
   */
  set(bodies: readonly Body[], now: number): boolean {
    if (bodies.length === this.bodies.length && bodies.every((body, i) => body === this.bodies[i])) return false;
    for (const { index } of this.bodies) this.known.get(index)!.gone = now;
    this.bodies.splice(0, this.bodies.length, ...bodies);
    this.characters.splice(0, this.characters.length, ...bodies.map((body) => this.known.get(body.index)!.character));
    this.findDriven();
    return true;
  }

  setDriver(body: Body, driver: Driver | undefined): void {
    body.driver = driver;
    this.findDriven();
  }

  private findDriven(): void {
    this.driven.length = this.players.length = 0;
    this.bodies.forEach((body, i) => {
      if (body.driver === undefined) return;
      this.driven.push(body);
      this.players.push(this.characters[i]!);
    });
  }
}
