import { existsSync } from 'node:fs';
import { join } from 'node:path';
import { CallError } from './exit.js';
import type { Shared } from './options.js';
import { print, printJson, typed, wrote } from './print.js';
import { writeStarters } from './write.js';

const FILES: Readonly<Record<string, string>> = {
  'hero.tuning.yaml': `# How the character moves. Lengths in units (1 unit = 1 tile here), times in seconds.
# Whatever is left out has a sensible default; apperin sheet hero.tuning.yaml says what it all comes to.
body: { width: 0.7, height: 1.3 }
run:
  speed: 7.5 # units per second
  upIn: 0.12 # from rest to top speed
  stopIn: 0.09 # from top speed to rest
jump:
  height: 3.25 # say what you want; gravity and launch speed follow
  riseTime: 0.4
  lowestHop: 1.25 # what a tap reaches
gravity:
  falling: 1.5 # comes down faster than it goes up
grace:
  coyote: 0.08 # a press this long after leaving an edge still jumps
  buffer: 0.12 # a press this long before landing jumps at the landing
# More moves, off as long as they are not written; take a # away to try one:
# airJumps: { heights: [2.25] } # a second jump in the air
# wall: {} # slide down walls, jump off them
# ledge: {} # hang from ledges and climb up
# glide: {} # with the glide action
# crouch: {} # down on the ground
`,
  'first.level.yaml': `title: First steps
tile: 1 # units per character
rows: # "#" is solid, "." is empty, "@" is where you start
  - "........................"
  - "........................"
  - "................####...."
  - "........................"
  - "..........###..........."
  - ".@...................###"
  - "##########...###########"
bounds: { left: wall, right: wall }
`,
  'hero.keys.yaml': `# What hangs on which key (KeyboardEvent.code) and gamepad button.
opposed: latest # both directions held: still, latest or first
actions:
  left: { keys: [ArrowLeft, KeyA], buttons: [14] }
  right: { keys: [ArrowRight, KeyD], buttons: [15] }
  up: { keys: [ArrowUp, KeyW], buttons: [12] }
  down: { keys: [ArrowDown, KeyS], buttons: [13] }
  jump: { keys: [Space], buttons: [0] }
  glide: { keys: [KeyE], buttons: [1] }
  walk: { keys: [ShiftLeft, ShiftRight], buttons: [4] }
  move: { axis: 0 } # the left stick
`,
  'first.input.csv': `time,action,value
0,right,1
0.62,jump,1
1.3,jump,0
2,right,0
`,
};

/** `apperin new`: starter files that play at once. */
export async function newFiles(folder: string, options: Shared): Promise<void> {
  const names = Object.keys(FILES);
  const there = names.filter((name) => existsSync(join(folder, name)));
  if (there.length > 0) throw new CallError(`nothing was written: ${folder} already has ${there.join(', ')}`);
  if (folder === '-') throw new CallError('new writes a folder of files: say where, as in apperin new my-game');
  await writeStarters(names.map((name) => [join(folder, name), FILES[name]!]));
  const paths = names.map((name) => join(folder, name));
  if (options.json) printJson({ files: paths });
  else if (options.quiet) for (const path of paths) print(path);
  else {
    wrote(paths, false);
    print(`Next: apperin run ${[paths[1]!, paths[0]!, paths[3]!].map(typed).join(' ')}`);
  }
}
