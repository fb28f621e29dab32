import { actionNumber, bot, fingerprint, openStage, rewind, script, type Driver, type InputRow, type Level, type Stage } from 'apperin'; // prettier-ignore

const RATE = 60;

const yard: Level = {
  rows: [
    '........................................',
    '........................................',
    '....................####................',
    '..................................###...',
    '..........###.............==............',
    '.@....................../####\\..........',
    '########################################',
  ],
  spawns: { gate: { at: [36.5, 6], facing: -1 } },
  movers: [
    { name: 'cart', shapes: [{ form: 'solid', points: [[13, 5.5], [15, 5.5], [15, 6], [13, 6]] }], route: { curve: [[0, 0, 6, 0]], lap: 4, keyPoints: [0, 1, 0], keyTimes: [0, 0.5, 1] } },
  ],
  bounds: { left: 'wall', right: 'wall' },
}; // prettier-ignore

const keys: InputRow[] = [
  { time: 0.2, action: 'right', value: 1 },
  { time: 1.05, action: 'jump', value: 1 },
  { time: 1.3, action: 'jump', value: 0 },
  { time: 3, action: 'right', value: 0 },
  { time: 3.4, action: 'left', value: 1 },
  { time: 4.1, action: 'jump', value: 1 },
  { time: 4.5, action: 'jump', value: 0 },
  { time: 6, action: 'left', value: 0 },
];

/** Plays rows by their moments and keeps nothing, so that rows may come in later, for moments that are past. */
function log(rows: readonly InputRow[]): Driver {
  return {
    read(into) {
      for (const { time, action, value } of rows)
        if (time >= into.from - 1e-9 && time < into.until) into.push(time, actionNumber(action), value);
    },
  };
}

/** Goes to where the other one is, and jumps at whatever stops it. */
const chaser = (stage: () => Stage): Driver =>
  bot((who) => {
    const other = stage().characters.find(({ name }) => name !== who.name)!;
    const way = other.x - who.x;
    return { left: way < -1, right: way > 1, jump: who.support === 'ground' && Math.abs(way) > 1 && who.vx === 0 };
  });

function open(hand: Driver): Stage {
  const stage: Stage = openStage(yard);
  stage.add({ airJumps: {} }, { name: 'hand', driver: hand });
  stage.add({ jump: { height: 2.5 } }, { name: 'bot', at: 'gate', driver: chaser(() => stage) });
  return stage;
}

const print = (stage: Stage): string => fingerprint(stage.snapshot());

// 1. A stage here and one at the other end. What goes over the wire is a snapshot's bytes.
const here = open(script(keys));
const there = open(script(keys));
let alike = 0;
for (let second = 1; second <= 8; second++) {
  // The other end has missed the first half of this second: it is sent where things stand, and plays on by itself.
  for (let i = 0; i < RATE / 2; i++) here.tick(1 / RATE);
  const sent = Buffer.from(here.snapshot().buffer);
  there.restore(new Float64Array(new Uint8Array(sent).buffer));
  for (let i = 0; i < RATE / 2; i++) {
    here.tick(1 / RATE);
    there.tick(1 / RATE);
  }
  if (print(here) === print(there)) alike++;
  const [hand, other] = here.characters;
  console.log(
    `${second} s: hand at ${hand!.x.toFixed(2)}, bot at ${other!.x.toFixed(2)}, ${sent.length} bytes sent, ${print(here) === print(there) ? 'the same bits at both ends' : 'DIFFERENT'}`,
  );
}

// 2. The same, but what is pressed arrives a fifth of a second late: go back to its moment, and play again up to now.
const arrived: InputRow[] = [];
const late = open(log(arrived));
const past = rewind(late, { seconds: 1, rate: RATE });
past.keep();
let again = 0;
for (let i = 0; i < 8 * RATE; i++) {
  const due = keys.filter(({ time }) => time + 0.2 <= late.time && !arrived.some((row) => row.time === time));
  if (due.length > 0) {
    arrived.push(...due);
    const now = late.ticks;
    past.back(late.time - due[0]!.time);
    again += now - late.ticks;
    while (late.ticks < now) {
      late.tick(1 / RATE);
      past.keep();
    }
  }
  late.tick(1 / RATE);
  past.keep();
}
const settled = print(late) === print(here);
console.log(
  `late input: ${arrived.length} presses, ${again} ticks played again, ${settled ? 'the same bits as on time' : 'DIFFERENT'}`,
);
process.exitCode = alike === 8 && settled ? 0 : 1;
