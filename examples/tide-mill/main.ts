import { merged, openStage, rewind, stepper } from 'apperin';
import { gamepad, keyboard, touch } from 'apperin/browser';
import { writeInput } from 'apperin/files';
import { brindle, compiled, wear } from './files.js';
import { menu, stored } from './menu.js';
import { rules } from './rules.js';
import { openScene } from './scene.js';
import { showMe } from './show.js';
import { sounds } from './sounds.js';

const RATE = 120;
const find = <E extends HTMLElement>(id: string): E => document.querySelector<E>(`#${id}`)!;

const mill = openStage(compiled);
const chosen = stored();
const keys = keyboard(window, chosen.keys);
const pad = gamepad(window);
const fingers = touch({ stick: find('stick'), buttons: { jump: find('touch-jump'), glide: find('touch-glide') } });
const hero = mill.add(brindle, { driver: merged(keys, pad, fingers), opposed: chosen.opposed });
const played = mill.record(hero);
wear(hero, false);
const steps = stepper({ rate: RATE });
const past = rewind(mill, { seconds: 60, rate: RATE });

let said = 0;
const game = rules(hero, (what) => {
  find('say').textContent = what;
  said = mill.time;
});
const audio = sounds(hero);
const scene = await openScene(mill, hero, find('picture'));
const show = showMe(mill, hero, scene.over);
if (matchMedia('(pointer: coarse)').matches) find('touch').hidden = false;

menu(keys, {
  pause: (on) => (steps.paused = on),
  again: () => game.restart(),
  save() {
    const link = document.createElement('a');
    link.href = URL.createObjectURL(new Blob([writeInput(played.rows)], { type: 'text/csv' }));
    link.download = 'mill.input.csv';
    link.click();
  },
  show: (on) => (show.on = on),
  sound: (on) => (audio.on = on),
  speed: (value) => (steps.speed = value),
  oppose: (rule) => hero.oppose(rule),
});

// Held down, Backspace goes back in time, twice as fast as it went. What is played on from there is no recording from the beginning any more.
let back = false;
addEventListener('keydown', (event) => (back ||= event.code === 'Backspace'));
addEventListener('keyup', (event) => (back &&= event.code !== 'Backspace'));
addEventListener('blur', () => (back = false));

const readout = document.querySelector('output')!;
const stick = find('stick').querySelector('i')!;

function frame(ms: number): void {
  if (back && past.seconds > 0) {
    played.end();
    past.back(2 / 60);
  } else
    steps.run(ms / 1000, (dt, at) => {
      mill.tick(dt, at);
      past.keep();
    });
  const between = back ? 1 : steps.between;
  if (said > 0 && mill.time > said + 4 && !game.finished) find('say').textContent = '';
  show.draw(between);
  scene.draw(between, mill.time, game.checkpoint);
  stick.style.translate = `${fingers.stick[0] * 40}px ${fingers.stick[1] * 40}px`;
  const { pose } = hero.view(between);
  readout.value = `${pose} · mishaps ${game.mishaps} · ${mill.time.toFixed(1)} s`;
  Object.assign(readout.dataset, {
    pose,
    x: String(hero.x),
    y: String(hero.y),
    vx: String(hero.vx),
    vy: String(hero.vy),
    support: hero.support,
    t: String(mill.time),
    bucket: String(mill.mover('bucket').y),
    stamp: String(mill.mover('stamp').y),
    mishaps: String(game.mishaps),
    checkpoint: game.checkpoint,
    finished: String(game.finished),
  });
  requestAnimationFrame(frame);
}
requestAnimationFrame(frame);
