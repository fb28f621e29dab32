import { openStage, stepper } from 'apperin';
import { keyboard } from 'apperin/browser';

const SCALE = 32; // pixels per tile

const rows = [
  '......................................',
  '......................................',
  '......................................',
  '......................................',
  '......................................',
  '......................................',
  '...........................####.......',
  '......................................',
  '......................................',
  '.................####.............####',
  '......................................',
  '......................................',
  '..........###.........................',
  '..................................####',
  '.@............................##......',
  '####################...###############',
  '####################...###############',
  '####################...###############',
];
const brindle = { jump: { height: 3.25, riseTime: 0.4, lowestHop: 1.25 }, run: { speed: 7.5 } };

const mill = openStage({ rows, bounds: { left: 'wall', right: 'wall', bottom: 'wall' } });
const hero = mill.add(brindle, { driver: keyboard(window) });
const steps = stepper({ rate: 120 });

const canvas = document.querySelector('canvas')!;
const readout = document.querySelector('output')!;
const pen = canvas.getContext('2d')!;
let puff = 0; // grows at a touchdown, fades away
hero.on('touchdown', (e) => (puff = Math.min(1, e.speed / 20)));

function draw(): void {
  pen.fillStyle = '#d9e3e2';
  pen.fillRect(0, 0, canvas.width, canvas.height);
  pen.fillStyle = '#5d6b66';
  rows.forEach((row, y) => {
    for (let x = 0; x < row.length; x++) if (row[x] === '#') pen.fillRect(x * SCALE, y * SCALE, SCALE, SCALE);
  });
  const { x, y, width, height, facing, pose, poseTime } = hero.view(steps.between);
  const squash = 1 - 0.25 * puff;
  pen.save();
  pen.translate(x * SCALE, y * SCALE);
  pen.scale(SCALE * facing, SCALE * squash);
  pen.fillStyle = '#a5762b';
  pen.fillRect(-width / 2, -height, width, height);
  pen.fillStyle = '#2a2f2d';
  pen.fillRect(width * 0.1, -height * 0.85, width * 0.2, height * 0.12); // an eye, to see the facing
  const swing = pose === 'run' ? 0.18 * Math.sin(poseTime * 20) : 0;
  pen.fillRect(-width * 0.3 + swing, -height * 0.12, width * 0.25, height * 0.12);
  pen.fillRect(width * 0.05 - swing, -height * 0.12, width * 0.25, height * 0.12);
  pen.restore();
  puff *= 0.9;
  readout.value = `${pose}, x ${x.toFixed(2)}, y ${y.toFixed(2)}`;
  Object.assign(readout.dataset, { pose, x: String(x), y: String(y) });
}

function frame(ms: number): void {
  steps.run(ms / 1000, (dt, at) => mill.tick(dt, at));
  draw();
  requestAnimationFrame(frame);
}
requestAnimationFrame(frame);
