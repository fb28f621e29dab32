import { EVENTS, recordPieces, type Character, type Stage, type TracePiece } from 'apperin';
import type { Ability } from 'apperin';

/** Something that happened, at its moment of stage time, s. */
export interface Happened {
  time: number;
  event: string;
}

/** Told so often that nobody looks for them one by one. */
export const OFTEN: readonly string[] = ['footfall', 'turned'];

/** Follows a character from now on: its pieces of motion, and what happens to it. */
export interface Watched {
  readonly pieces: readonly TracePiece[];
  readonly events: readonly Happened[];
  end(): void;
}

/** @param abilities of the game's own that the character has: what they tell is told too */
export function watch(stage: Stage, who: Character, abilities: readonly Ability[] = []): Watched {
  const recorded = recordPieces(stage, who);
  const events: Happened[] = [];
  const names = new Set([...EVENTS, ...abilities.flatMap(({ spec }) => spec.events ?? [])].filter((name) => !OFTEN.includes(name)));
  const ends = [...names].map((name) => who.on(name, ({ time, event }) => events.push({ time, event })));
  return {
    get pieces() {
      return recorded.pieces;
    },
    events,
    end() {
      recorded.end();
      for (const end of ends) end();
    },
  };
} // prettier-ignore

/** What there is of pieces within a span; those at its ends are cut. */
export function within(pieces: readonly TracePiece[], from: number, until: number): TracePiece[] {
  const found: TracePiece[] = [];
  for (const piece of pieces)
    if (piece.from < until && piece.until > from) found.push(piece.until > until ? { ...piece, until } : piece);
  return found;
}
