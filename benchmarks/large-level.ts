import { compileLevel, openStage, type Level } from 'apperin';
import type { Case } from './ticks.js';

const DT = 1 / 60;

/** Rooms of ten by ten tiles, as many as fit: floors with a gap and a step in each. */
export function rooms(columns: number, rows: number): Level {
  const line = (row: number): string => {
    const part = row === 9 ? '########..' : row === 8 ? '....##....' : '..........';
    return part.repeat(columns);
  };
  const all = Array.from({ length: rows * 10 }, (_, row) => line(row % 10));
  const middle = Math.floor(all.length / 20) * 10 + 8;
  return { rows: all, spawns: { start: { at: [Math.floor(columns / 2) * 10 + 1.5, middle + 1] } } };
}

/** Runs to and fro within one room of a level. */
export function inLevel(name: string, level: Level): Case & { edges: number } {
  const compiled = compileLevel(level);
  const stage = openStage(compiled);
  let way = 0;
  const hero = stage.add(
    {},
    {
      driver: {
        read(into) {
          if (Math.floor(into.from) === way) return;
          way = Math.floor(into.from);
          into.push(into.from, 0, way % 2);
          into.push(into.from, 1, 1 - (way % 2));
          into.push(into.from, 4, way % 3 === 0 ? 1 : 0);
        },
      },
    },
  );
  const start = stage.snapshot();
  return {
    name,
    edges: compiled.terrain.count,
    run: (ticks) => {
      for (let i = 0; i < ticks; i++) {
        stage.tick(DT);
        if (hero.support === '' && hero.vy > 20) stage.restore(start);
      }
    },
  };
}
