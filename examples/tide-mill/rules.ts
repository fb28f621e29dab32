import type { Character } from 'apperin';
import { booted, brindle, wear } from './files.js';

/** What the game adds to the motion. */
export interface Rules {
  /** The spawn that a mishap leads back to. */
  readonly checkpoint: string;
  readonly mishaps: number;
  readonly finished: boolean;
  restart(): void;
}

export function rules(hero: Character, say: (what: string) => void): Rules {
  const state = { checkpoint: 'start', mishaps: 0, finished: false };
  const mishap = (what: string): void => {
    state.mishaps++;
    say(what);
    hero.place(state.checkpoint);
  };
  hero.on('enter', ({ tags, zone }) => {
    if (tags.includes('hazard')) mishap('Cold water. Once more.');
    if (tags.includes('checkpoint') && state.checkpoint !== zone) {
      state.checkpoint = zone;
      say('A lantern is lit.');
    }
    if (tags.includes('boots')) {
      hero.retune(booted);
      wear(hero, true);
      say('Spring boots: hold the jump key, then let go.');
    }
    if (tags.includes('goal') && !state.finished) {
      state.finished = true;
      say('The bell rings. High water!');
    }
  });
  hero.on('crushed', () => mishap('The stamp waits for nobody.'));
  hero.on('out', () => mishap('Out with the tide.'));
  return {
    get checkpoint() {
      return state.checkpoint;
    },
    get mishaps() {
      return state.mishaps;
    },
    get finished() {
      return state.finished;
    },
    restart() {
      Object.assign(state, { checkpoint: 'start', mishaps: 0, finished: false });
      hero.retune(brindle);
      wear(hero, false);
      hero.place('start');
      say('');
    },
  };
}
