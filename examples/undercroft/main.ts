import { merged, stepper } from 'apperin';
import { DEFAULT_KEYS, DEFAULT_PAD, gamepad, keyboard, rumble } from 'apperin/browser';
import { Game, type Kept } from './game.js';
import { Picture } from './picture.js';

const STORED = 'undercroft';
const canvas = document.querySelector('canvas')!;
const readout = document.querySelector('output')!;
const say = document.querySelector('#say')!;
const keys = keyboard(window, { ...DEFAULT_KEYS, dash: ['KeyX'], sling: ['KeyC'] });
const pad = gamepad(window, { buttons: { ...DEFAULT_PAD, dash: [5], sling: [2] } });
const picture = new Picture(canvas.getContext('2d')!);
const steps = stepper({ rate: 120 });

/** A new game, or one that was kept. */
function begin(kept?: Kept): Game {
  const begun = new Game(merged(keys, pad), (event, who, other, of) => {
    picture.sees(event, who, other);
    if (event.event === 'enter' && event.tags.includes('lantern')) localStorage.setItem(STORED, JSON.stringify(of.keep()));
  }, kept);
  rumble(pad, begun.hero, {
    touchdown: ({ speed }) => (speed > 10 ? { strong: speed / 40, lasts: 0.1 } : undefined),
    meet: { strong: 0.8, weak: 0.6, lasts: 0.15 },
    dashOn: { weak: 0.4, lasts: 0.08 },
  });
  // For those who want to look from the console, and for checks.
  return Object.assign(window, { game: begun }).game;
} // prettier-ignore

let game = begin((JSON.parse(localStorage.getItem(STORED) ?? 'null') as Kept | null) ?? undefined);
let back = false;
addEventListener('keydown', ({ code }) => {
  if (code === 'Backspace') back = true;
  if (code === 'KeyB') picture.bones = !picture.bones;
  if (code === 'KeyN') game = begin();
});
addEventListener('keyup', ({ code }) => (back &&= code !== 'Backspace'));
addEventListener('blur', () => (back = false));

let before = NaN;
function frame(ms: number): void {
  const seconds = Math.min(0.05, (ms - before) / 1000 || 0);
  before = ms;
  // Held, Backspace goes back in time, through doors too.
  if (back) game.past.back(2 * seconds);
  else steps.run(ms / 1000, (dt, at) => game.tick(dt, at));
  canvas.width = innerWidth;
  canvas.height = innerHeight;
  picture.draw(game, back ? 1 : steps.between, seconds, ms / 1000);
  const { hero, here, stage, won, pennies } = game;
  say.textContent = won ? `The bell rings. ${pennies[0]} of ${pennies[1]} pennies.` : stage.level.title!;
  readout.value = `${pennies[0]} / ${pennies[1]}`;
  Object.assign(readout.dataset, { here, x: hero.x, y: hero.y });
  requestAnimationFrame(frame);
}
requestAnimationFrame(frame);
