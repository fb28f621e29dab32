import { cpSync, mkdirSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { DATA } from './cli.js';

/** Rooms and promises of a search, in a folder: four small rooms of the mill, and what is asked of them. */
export function putRooms(folder: string, rooms: readonly string[] = ['sill', 'race', 'gratings', 'sump']): void {
  mkdirSync(join(folder, 'rooms'));
  for (const room of rooms) cpSync(join(DATA, 'rooms', `${room}.level.yaml`), join(folder, 'rooms', `${room}.level.yaml`)); // prettier-ignore
  cpSync(join(DATA, 'brindle.tuning.yaml'), join(folder, 'brindle.tuning.yaml'));
  writeFileSync(
    join(folder, 'rooms.promises.yaml'),
    `promises:
  - { name: the way out, level: rooms/*.level.yaml, survey: exit, answer: yes, spend: 2000 }
  - { name: not long in the air, measure: airTime, most: 0.78 }
`,
  );
}

/** A search of so many rows there, by the words of the command line. */
export const searching = (heights: number, speeds: number): string[] => ['search', 'brindle.tuning.yaml', `jump.height=2.5..4.3/${heights}`, `run.speed=5..10/${speeds}`, '--promises', 'rooms.promises.yaml']; // prettier-ignore
