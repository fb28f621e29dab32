import { Application, Container, Graphics } from 'pixi.js';
import type { Character, Stage } from 'apperin';
import { drawFigure } from './figure.js';
import { level } from './files.js';

const STONE = 0x5b6a66;
const EDGE = 0x7d8d86;
const WATER = 0x2f7f8c;

export interface Scene {
  /** In tiles, moved with the level: for what else is drawn over it. */
  over: Container;
  draw(between: number, time: number, lit: string): void;
}

/**
 * The mill, as high as its place on the page: what stands still is drawn once, the rest each frame.
 * @param place where its canvas goes, and what it fills
 */
export async function openScene(mill: Stage, hero: Character, place: HTMLElement): Promise<Scene> {
  const app = new Application();
  await app.init({ resizeTo: place, background: 0x33474a, antialias: true, preference: 'webgl', autoStart: false, sharedTicker: false }); // prettier-ignore
  place.prepend(app.canvas);
  const world = new Container();
  const [far, still, moving, lights, figure, water, over] = [
    new Graphics(), new Graphics(), new Graphics(), new Graphics(), new Graphics(), new Graphics(), new Container(),
  ]; // prettier-ignore
  world.addChild(far, still, moving, lights, figure, water, over);
  app.stage.addChild(world);
  drawFar(far);
  drawStill(still);
  const zones = level.zones!;
  const boxOf = (tag: string) =>
    zones.filter(({ tags }) => tags!.includes(tag)).map(({ name, box }) => ({ name: name!, box: box! }));
  const [waters, lanterns, boots, bells] = ['hazard', 'checkpoint', 'boots', 'goal'].map(boxOf) as [ReturnType<typeof boxOf>, ReturnType<typeof boxOf>, ReturnType<typeof boxOf>, ReturnType<typeof boxOf>]; // prettier-ignore
  const [wide, high] = [level.rows[0]!.length, level.rows.length];
  return {
    over,
    draw(between, time, lit) {
      const view = hero.view(between);
      const { width, height } = app.screen;
      const tile = height / high;
      world.scale.set(tile);
      world.x = -Math.max(0, Math.min(wide * tile - width, view.x * tile - width * 0.4));
      far.x = -world.x / tile / 2;
      moving.clear();
      for (const { set, x, y, corners } of outlines(mill, between))
        if (set !== '') {
          moving.poly(corners.map((value, i) => value + (i % 2 === 0 ? x : y)));
          moving.fill(set === 'stamp' ? 0x6d5a4a : 0x8a6f3f).stroke({ width: 0.06, color: 0xd8c79a });
        }
      lights.clear();
      for (const { name, box } of lanterns)
        lights.circle(box[0] + 0.5, box[1] + 1, 0.22).fill({ color: name === lit ? 0xffd873 : 0x8b8f7d });
      for (const { box } of boots) lights.roundRect(box[0] + 0.2, box[1] + 0.6, 0.6, 0.4, 0.1).fill(0xc96f3b);
      for (const { box } of bells)
        lights.poly([box[0] + 0.5, box[1] + 1, box[0] + 1, box[1], box[0] + 1.5, box[1] + 1]).fill(0xe5b84a); // prettier-ignore
      drawFigure(figure, view);
      figure.position.set(view.x, view.y + view.stepLag);
      water.clear();
      for (const { box } of waters) {
        const top = Array.from({ length: box[2] * 4 + 1 }, (_, i) => [box[0] + i / 4, box[1] - 0.4 + 0.08 * Math.sin(time * 2 + i)]).flat();
        water.poly([...top, box[0] + box[2], 20, box[0], 20]).fill({ color: WATER, alpha: 0.75 });
      } // prettier-ignore
      app.render();
    },
  };
}

/** What the stage says is solid, with the name of what it moves with. */
function* outlines(mill: Stage, between: number) {
  for (const shape of mill.shapes(between))
    if (shape.mover) yield { set: shape.mover, x: shape.x, y: shape.y, corners: shape.points.flat() };
}

function drawFar(pen: Graphics): void {
  for (let x = 0; x < 60; x += 5) {
    pen.rect(x, 0, 0.35, 20).fill(0x3b5154);
    pen
      .moveTo(x, 6)
      .lineTo(x + 5, 3)
      .stroke({ width: 0.25, color: 0x3b5154 });
  }
  pen.circle(22, 12, 6).stroke({ width: 0.5, color: 0x3d5557 });
  for (let i = 0; i < 12; i++)
    pen.moveTo(22, 12).lineTo(22 + 6 * Math.cos((i * Math.PI) / 6), 12 + 6 * Math.sin((i * Math.PI) / 6)).stroke({ width: 0.2, color: 0x3d5557 }); // prettier-ignore
}

function drawStill(pen: Graphics): void {
  const { rows } = level;
  rows.forEach((row, y) => {
    for (const { index, 0: run } of row.matchAll(/#+/g)) pen.rect(index, y, run.length, 1).fill(STONE);
    for (const { index, 0: run } of row.matchAll(/=+/g))
      for (let x = index; x < index + run.length; x += 0.5) pen.rect(x + 0.05, y, 0.35, 0.22).fill(0xb08d4f);
    for (const { index, 0: run } of row.matchAll(/#+/g))
      for (let x = index; x < index + run.length; x++) if (rows[y - 1]?.[x] !== '#') pen.rect(x, y, 1, 0.12).fill(EDGE);
  });
}
