import { openStage, stepper } from 'apperin';
import { DEFAULT_KEYS, keyboard } from 'apperin/browser';
import { dash } from './dash.js';

const SCALE = 32; // pixels per tile

const rows = [
  '......................................',
  '......................................',
  '...........#..........................',
  '...........#..........................',
  '.......#...#..........................',
  '.......#...#..........................',
  '.......#...#..........................',
  '.......#...#..........................',
  '.......#...#..............######......',
  '.......#...#..............######......',
  '.......#...#####..........######......',
  '.......#...#####..........######......',
  '............####................###...',
  '............####................###...',
  '.@................##............###...',
  '######################...#############',
  '######################...#############',
  '######################...#############',
];
const brindle = {
  jump: { height: 3.25, riseTime: 0.4 },
  airJumps: {},
  wall: {},
  ledge: {},
  glide: {},
  dive: {},
  crouch: {},
  own: { dash: { speed: 18, lasts: 0.15 } },
};

// A press of the space bar that starts no jump glides.
const keys = { ...DEFAULT_KEYS, glide: ['Space'], dash: ['KeyX'] };
const mill = openStage({ rows, bounds: { left: 'wall', right: 'wall', bottom: 'wall' } });
const hero = mill.add(brindle, { driver: keyboard(window, keys), abilities: [dash] });
const steps = stepper({ rate: 120 });

const canvas = document.querySelector('canvas')!;
const readout = document.querySelector('output')!;
const pen = canvas.getContext('2d')!;
let dashes = 0;
hero.on('dashOn', () => dashes++);

const COLOURS: Record<string, string> = { dash: '#b8572b', glide: '#4d7f8c', dive: '#7d3b52', slide: '#6f6a3a' };

function draw(): void {
  pen.fillStyle = '#d9e3e2';
  pen.fillRect(0, 0, canvas.width, canvas.height);
  pen.fillStyle = '#5d6b66';
  rows.forEach((row, y) => {
    for (let x = 0; x < row.length; x++) if (row[x] === '#') pen.fillRect(x * SCALE, y * SCALE, SCALE, SCALE);
  });
  const { x, y, width, height, facing, pose, strides } = hero.view(steps.between);
  pen.save();
  pen.translate(x * SCALE, y * SCALE);
  pen.scale(SCALE * facing, SCALE);
  pen.fillStyle = COLOURS[pose] ?? '#a5762b';
  pen.fillRect(-width / 2, -height, width, height);
  pen.fillStyle = '#2a2f2d';
  pen.fillRect(width * 0.1, -height * 0.85, width * 0.2, height * 0.12); // an eye, to see the facing
  const swing = pose === 'run' ? 0.18 * Math.sin(strides * 2 * Math.PI) : 0; // feet go with the ground covered
  pen.fillRect(-width * 0.3 + swing, -height * 0.12, width * 0.25, height * 0.12);
  pen.fillRect(width * 0.05 - swing, -height * 0.12, width * 0.25, height * 0.12);
  pen.restore();
  readout.value = `${pose}, jumps left ${hero.jumpsLeft}, dashes ${dashes}`;
  Object.assign(readout.dataset, { pose, x: String(x), y: String(y), dashes: String(dashes) });
}

function frame(ms: number): void {
  steps.run(ms / 1000, (dt, at) => mill.tick(dt, at));
  draw();
  requestAnimationFrame(frame);
}
requestAnimationFrame(frame);
