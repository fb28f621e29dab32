import type { Body } from '../state/body.js';
import type { Character, Driver } from './character.js';

interface Member {
  readonly body: Body;
  readonly character: Character;
}

/** Who is on a stage, and who has been and may be again: going back in time brings back those who were removed meanwhile. */
export class Cast {
  /** Those who are there, in the order in which they came. */
  readonly bodies: Body[] = [];
  readonly characters: Character[] = [];
  /** Those of them that have a driver, and as what those know them. */
  readonly driven: Body[] = [];
  readonly players: Character[] = [];
  private readonly known = new Map<number, Member>();
  /** No number is used twice on a stage. */
  nextId = 0;

  /** @param body with its number, where it has one on another stage already */
  enter(body: Body, character: Character, id = this.nextId): void {
    body.index = id;
    if (id >= this.nextId) this.nextId = id + 1;
    this.known.set(id, { body, character });
    this.bodies.push(body);
    this.characters.push(character);
    this.findDriven();
  }

  /** @param keep whether it may come back */
  leave(body: Body, keep: boolean): void {
    const at = this.bodies.indexOf(body);
    if (at >= 0) {
      this.bodies.splice(at, 1);
      this.characters.splice(at, 1);
    }
    if (!keep) this.known.delete(body.index);
    this.findDriven();
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
   * @returns whether that changes anything
   */
  set(bodies: readonly Body[]): boolean {
    if (bodies.length === this.bodies.length && bodies.every((body, i) => body === this.bodies[i])) return false;
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
