import { Graphics, type Container } from 'pixi.js';
import type { Character, Stage } from 'apperin';

/** Seconds of the trail. */
const TRAIL = 2;

/** What the controller sees: hitbox, what it stands on, normals, the lengths of grace, and the way it has come. */
export interface Show {
  on: boolean;
  draw(between: number): void;
}

export function showMe(mill: Stage, hero: Character, over: Container): Show {
  const pen = new Graphics();
  over.addChild(pen);
  const trail: { time: number; x: number; y: number }[] = [];
  const { terrain } = mill.level;
  const state = { on: false };
  return {
    get on() {
      return state.on;
    },
    set on(value) {
      state.on = value;
      pen.clear();
    },
    draw(between) {
      const { x, y, width, height } = hero.view(between);
      trail.push({ time: mill.time, x, y });
      while (trail[0]!.time < mill.time - TRAIL || trail[0]!.time > mill.time) trail.shift();
      if (!state.on) return;
      pen.clear();
      // The way it has come, drawn anew where it was put somewhere else.
      trail.forEach((at, i) => {
        const before = trail[i - 1];
        if (before && Math.abs(before.x - at.x) + Math.abs(before.y - at.y) < 2) pen.lineTo(at.x, at.y);
        else pen.moveTo(at.x, at.y);
      });
      pen.stroke({ width: 0.06, color: 0xffe9a8, alpha: 0.8 });
      // Normals of the still edges nearby, y down here.
      for (let e = 0; e < terrain.setUntil[0]!; e++) {
        const [mx, my] = [(terrain.x1[e]! + terrain.x2[e]!) / 2, -(terrain.y1[e]! + terrain.y2[e]!) / 2];
        if (!(Math.abs(mx - x) < 12 && Math.abs(my - y) < 12)) continue;
        pen.moveTo(terrain.x1[e]!, -terrain.y1[e]!).lineTo(terrain.x2[e]!, -terrain.y2[e]!);
        pen.moveTo(mx, my).lineTo(mx + terrain.nx[e]! * 0.5, my - terrain.ny[e]! * 0.5);
      }
      pen.stroke({ width: 0.05, color: 0x9fe0d0, alpha: 0.8 });
      pen.rect(x - width / 2, y - height, width, height).stroke({ width: 0.06, color: 0xff8a5c });
      // What grace gives: how far a head is moved past a corner, how far above the feet a lip may be, how far a late jump reaches.
      const { corner, lip, coyote } = hero.motion;
      pen.rect(x - width / 2 - corner, y - height - 0.1, corner, 0.1);
      pen.rect(x + width / 2, y - height - 0.1, corner, 0.1);
      pen.rect(x + (hero.facing * width) / 2 - (hero.facing < 0 ? 0.1 : 0), y - lip, 0.1, lip);
      pen.fill({ color: 0xd59bff, alpha: 0.9 });
      if (hero.support === 'ground') {
        pen
          .moveTo(x - width / 2, y)
          .lineTo(x + width / 2, y)
          .stroke({ width: 0.12, color: 0x7ff08a });
        const length = Math.hypot(1, hero.slope);
        pen.moveTo(x, y).lineTo(x + hero.slope / length, y - 1 / length);
        pen.stroke({ width: 0.06, color: 0x7ff08a });
        const ahead = hero.motion.ground.speed * coyote * hero.facing;
        pen
          .moveTo(x, y + 0.15)
          .lineTo(x + ahead, y + 0.15)
          .stroke({ width: 0.1, color: 0xd59bff });
      }
    },
  };
}
