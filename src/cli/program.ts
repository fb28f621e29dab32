import { Command, CommanderError, Option } from 'commander';
import { VERSION, nearest, visible } from 'apperin/text';
import { call, during, type Call } from './call.js';
import { CallError, EXIT, fail } from './exit.js';
import {
  collect,
  between,
  WORKERS,
  equip,
  BEST,
  HOST,
  SHAPES,
  surveying,
  capturing,
  claim,
  type SharedOption,
} from './given.js';
import type { Long, Shared } from './options.js';
import type { Captured } from './fit.js';
import type { Asked } from './survey-level.js';
import type { SearchAsked } from './search.js';

/** The command line with all its commands. */
export function commands(): Command {
  const program = new Command('apperin')
    .description('Build and tune side-view platformer character controllers.')
    .version(VERSION, '--version', 'print the version')
    .helpOption('-h, --help', 'explain a command')
    .helpCommand(false)
    .showHelpAfterError('(apperin --help lists the commands; apperin help COMMAND explains one)')
    .exitOverride()
    .enablePositionalOptions()
    .configureOutput({ writeOut: (text) => call().out(text), writeErr: (text) => call().err(visible(text)) })
    .hook('preAction', async (_, of) => {
      const given: Shared = of.opts();
      claim(given);
      if (given.abilities) call().abilities = await (await import('./abilities.js')).loadAbilities(given.abilities);
    });

  program.addHelpText('after', '\nTry:  apperin demo\n      apperin sheet brindle.tuning.yaml\n');

  const command = (name: string, about: string, options: readonly SharedOption[], example: string): Command =>
    equip(program.command(name).description(about), options, example);

  command('new', 'Give me starter files.', ['json', 'quiet'], 'apperin new my-game')
    .argument('[folder]', 'where to put them', '.')
    .action(async (folder: string, options: Shared) => (await import('./new.js')).newFiles(folder, options));

  command(
    'check',
    'Are these files right, and what in them will feel wrong?',
    ['set', 'abilities', 'rate', 'json', 'quiet'],
    'apperin check data/tide-mill/*',
  )
    .argument('<files...>', 'tunings, levels and inputs')
    .action(async (files: string[], options: Shared) => (await import('./check.js')).check(files, options));

  command(
    'sheet',
    'What do these numbers amount to?',
    ['tuning', 'set', 'abilities', 'rate', 'json', 'quiet'],
    'apperin sheet data/tide-mill/brindle.tuning.yaml',
  )
    .argument('[files...]', 'a tuning')
    .action(async (files: string[], options: Shared) => (await import('./sheet.js')).sheetCommand(files, options));

  command(
    'run',
    'Play this input in this level: what happened?',
    ['tuning', 'level', 'input', 'set', 'abilities', 'rate', 'seconds', 'json', 'quiet'],
    'apperin run data/tide-mill/yard.level.yaml data/tide-mill/brindle.tuning.yaml data/tide-mill/leap.input.csv',
  )
    .argument('[files...]', 'a level, a tuning, an input')
    .option('--at <spawn>', 'the spawn to start from')
    .option(...SHAPES)
    .option(...HOST)
    .option('--trace <file>', 'write the state after every tick (CSV)')
    .option('--events <file>', 'write the events (JSON Lines)')
    .option('--pieces <file>', 'write the motion itself, piece by piece (JSON Lines)')
    .action(async (files: string[], options: Shared) => (await import('./run.js')).run(files, options));

  surveying(
    command(
      'survey',
      'Where can this character get to in this level, and where not? With an input: how tight is each of its presses?',
      ['tuning', 'level', 'input', 'set', 'abilities', 'rate', 'json', 'quiet'],
      'apperin survey data/tide-mill/yard.level.yaml data/tide-mill/brindle.tuning.yaml',
    ),
  )
    .addOption(
      new Option('--margins <which>', 'how tight presses are of every way, not only of the tightest').choices(['all']),
    )
    .option('--out <folder>', 'write what was found, its picture, and the input of every way, into a folder')
    .argument('[files...]', 'a level, a tuning, an input')
    .action(async (files: string[], options: Asked) => (await import('./survey.js')).survey(files, options));

  const draw = program
    .command('draw')
    .description('Show me: arcs, curves over time, speeds, a level, the way through it.')
    .helpCommand(false)
    .helpOption('-h, --help', 'explain this command')
    .exitOverride();
  for (const [kind, about, options, example] of [
    ['level', 'A level: what is solid, gratings, and where one starts.', [], 'data/tide-mill/wheelhouse.level.yaml'],
    [
      'trace',
      'The way of a character through a level, with what happened on it.',
      ['tuning', 'input', 'set', 'abilities', 'rate', 'seconds'],
      'data/tide-mill/wheelhouse.level.yaml data/tide-mill/nimble.tuning.yaml data/tide-mill/shaft.input.csv',
    ],
  ] as const) {
    const made = equip(
      draw.command(kind).description(about),
      ['level', ...options, 'out', 'format', 'json', 'quiet'],
      `apperin draw ${kind} ${example} --out ${kind}.png`,
    )
      .option('--width <pixels>', 'width of a PNG (1280 unless given)', between(16, 8192, 'pixels'))
      .argument('[files...]', kind === 'level' ? 'a level' : 'a level, a tuning, an input');
    if (kind === 'level') made.option('--edges', 'show every edge, its normal and its joints');
    if (kind === 'trace') made.option('--at <spawn>', 'the spawn to start from');
    made.action(async (files: string[], given: Shared & { width?: number; at?: string; edges?: boolean }) =>
      (await import('./draw.js')).drawLevel(kind, files, given),
    );
  }
  equip(
    draw.command('margins').description('A press of an input against its hold: what still lands there.'),
    ['tuning', 'level', 'input', 'set', 'abilities', 'rate', 'out', 'format', 'json', 'quiet'],
    'apperin draw margins data/tide-mill/yard.level.yaml data/tide-mill/brindle.tuning.yaml data/tide-mill/leap.input.csv --out margins.png',
  )
    .option('--width <pixels>', 'width of a PNG (1280 unless given)', between(16, 8192, 'pixels'))
    .option('--at <spawn>', 'the spawn to start from')
    .option(
      '--press <n>',
      'which press of those that survey lists, from 1 (the tightest unless given)',
      between(1, 100000, 'a press'),
    )
    .argument('[files...]', 'a level, a tuning, an input')
    .action(async (files: string[], given: Shared & { width?: number; at?: string; press?: number }) =>
      (await import('./draw.js')).drawMargins(files, given),
    );
  surveying(
    equip(
      draw.command('survey').description('Where a character gets to in a level, and where not.'),
      ['tuning', 'level', 'set', 'abilities', 'out', 'format', 'json', 'quiet'],
      'apperin draw survey data/tide-mill/yard.level.yaml data/tide-mill/brindle.tuning.yaml --out survey.png',
    ),
  )
    .option('--width <pixels>', 'width of a PNG (1280 unless given)', between(16, 8192, 'pixels'))
    .argument('[files...]', 'a level, a tuning')
    .action(async (files: string[], options: Asked & { width?: number }) =>
      (await import('./survey-level.js')).drawSurvey(files, options),
    );
  for (const [kind, about] of [
    ['arcs', 'Height over distance, to scale, of one to six tunings.'],
    ['time', 'Height and speeds of a running jump over time, of one to six tunings.'],
    ['speed', 'Run-up, stop and turn on the ground and in the air, of one to six tunings.'],
  ] as const) {
    equip(
      draw.command(kind).description(about),
      ['tuning', 'set', 'abilities', 'out', 'format', 'json', 'quiet'],
      `apperin draw ${kind} data/tide-mill/brindle.tuning.yaml --out ${kind}.png`,
    )
      .option('--width <pixels>', 'width of a PNG (1280 unless given)', between(16, 8192, 'pixels'))
      .argument('[files...]', 'one to six tunings')
      .action(async (files: string[], options: Shared & { width?: number }) =>
        (await import('./draw.js')).draw(kind, files, options),
      );
  }

  equip(
    draw.command('search').description('Which promises hold where, over two of the keys that were searched.'),
    ['out', 'format', 'json', 'quiet'],
    'apperin draw search found.jsonl --out search.png',
  )
    .option('--width <pixels>', 'width of a PNG (1280 unless given)', between(16, 8192, 'pixels'))
    .option('--over <key>', 'a key along an axis, twice for two (the first two unless given)', collect)
    .argument('<file>', 'what a search has found (*.jsonl)')
    .action(async (file: string, options: Shared & { width?: number; over?: string[] }) =>
      (await import('./draw.js')).drawSearch(file, options),
    );

  capturing(
    equip(
      draw.command('fit').description('A recorded motion as dots, the fitted motion as lines, and what is left.'),
      ['tuning', 'set', 'out', 'format', 'json', 'quiet'],
      'apperin draw fit data/tide-mill/old-hand.capture.csv --scale 16 --out fit.png',
    ),
  )
    .option('--width <pixels>', 'width of a PNG (1280 unless given)', between(16, 8192, 'pixels'))
    .action(async (files: string[], options: Captured & { width?: number }) =>
      (await import('./fit.js')).drawFit(files, options),
    );

  equip(
    draw
      .command('envelope')
      .description('Everything that the feet can reach from one takeoff, by any use of the keys.'),
    ['tuning', 'set', 'abilities', 'out', 'format', 'json', 'quiet'],
    'apperin draw envelope data/tide-mill/brindle.tuning.yaml --out envelope.png',
  )
    .option('--width <pixels>', 'width of a PNG (1280 unless given)', between(16, 8192, 'pixels'))
    .option('--below <units>', 'how far below the takeoff (three tiles unless given)', between(0, 1e9, 'units'))
    .option('--reach <x,y>', 'write the keys that reach this place, and the level to play them in')
    .argument('[files...]', 'a tuning')
    .action(async (files: string[], options: Shared & { width?: number; below?: number; reach?: string }) =>
      (await import('./envelope.js')).drawEnvelope(files, options),
    );

  command(
    'convert',
    'What I have, in the form I need: a level as rows, as a drawing, or as its compiled edges; numbers by frames as a tuning, and back.',
    ['level', 'tuning', 'set', 'out', 'format', 'json', 'quiet'],
    'apperin convert data/tide-mill/yard.level.yaml --out yard.level.svg',
  )
    .argument('[files...]', 'a level, numbers by frames (*.frames.yaml), or a tuning with --frames')
    .option('--frames <n>', 'a tuning as numbers for so many frames a second', between(1, 10000, 'frames per second'))
    .option('--order <order>', 'inside a frame: velocity-first (unless given) or position-first')
    .option('--to <form>', 'rows, drawing or edges; the other form unless given')
    .option('--tile <units>', 'units a tile, for rows (1 unless given)', between(0.000001, 1048576, 'units'))
    .action(
      async (files: string[], options: Shared & { to?: string; tile?: number; frames?: number; order?: string }) =>
        (await import('./convert.js')).convert(files, options),
    );

  command(
    'compare',
    'Two to six tunings, or one with --set: which keys differ, and what of it?',
    ['tuning', 'level', 'input', 'set', 'abilities', 'rate', 'seconds', 'out', 'format', 'json', 'quiet'],
    'apperin compare data/tide-mill/brindle.tuning.yaml data/tide-mill/nimble.tuning.yaml',
  )
    .argument('[files...]', 'two to six tunings; a level and an input to play by all of them')
    .option('--at <spawn>', 'the spawn to start from')
    .option('--rates <list>', 'one tuning, level and input at several tick rates: 30,60,144')
    .option('--width <pixels>', 'width of a PNG (1280 unless given)', between(16, 8192, 'pixels'))
    .action(async (files: string[], options: Shared & { at?: string; rates?: string; width?: number }) =>
      (await import('./compare.js')).compareCommand(files, options),
    );

  command(
    'vary',
    'Vary one or two numbers: how does each measure follow?',
    ['tuning', 'set', 'abilities', 'rate', 'out', 'format', 'json', 'quiet'],
    'apperin vary data/tide-mill/brindle.tuning.yaml jump.height=2..4/9 --out vary.png',
  )
    .argument('<words...>', 'a tuning, and keys with their values: jump.height=2..4/9')
    .option('--width <pixels>', 'width of a PNG (1280 unless given)', between(16, 8192, 'pixels'))
    .option(...WORKERS)
    .action(async (words: string[], options: Shared & Long & { width?: number }) =>
      (await import('./vary.js')).varyCommand(words, options),
    );

  const search = command(
    'search',
    'Which of these tunings keep every promise in every room?',
    ['tuning', 'set', 'abilities', 'rate', 'json', 'quiet'],
    'apperin search data/tide-mill/brindle.tuning.yaml jump.height=2.5..4.3/10 run.speed=5..10/6 --promises data/tide-mill/rooms.promises.yaml --out found.jsonl',
  )
    .argument('<words...>', 'a tuning, and keys with their values: jump.height=2..4/9 run.speed=6..9/7')
    .option('--promises <file>', 'what is to be kept (*.promises.yaml)', collect)
    .option('--sample <n>', 'so many of the combinations, spread evenly, instead of all', between(1, 100_000, 'rows'))
    .option(...BEST)
    .option('--out <file>', 'where what is found is written, a row a line; the same call goes on with it')
    .option('--shard <k/n>', 'only the k-th of n parts, to be done elsewhere and merged: 2/16')
    .option('--queue <url>', 'hand the rows to workers by this queue: redis://host:6379')
    .option(
      '--spend <n>',
      'how many events of the core a survey may spend, unless its promise says (100000 unless given)',
      between(1, 1e12, 'events'),
    )
    .option(...WORKERS)
    .action(async (words: string[], options: SearchAsked) =>
      (await import('./search.js')).searchCommand(words, options),
    );
  equip(
    search.command('merge').description('Parts of a search as one; says which rows are missing.'),
    ['json', 'quiet'],
    'apperin search merge part-*.jsonl --out found.jsonl',
  )
    .argument('<files...>', 'parts')
    .option(...BEST)
    .option('--out <file>', 'where to write all of it')
    .action(async (files: string[], options: Shared & { best?: string[] }) =>
      (await import('./search.js')).mergeCommand(files, options),
    );
  equip(
    search.command('work').description('Do rows of searches that come by a queue, until it is stopped.'),
    ['abilities', 'quiet'],
    'apperin search work --queue redis://localhost:6379 --workers 8',
  )
    .requiredOption('--queue <url>', 'the queue: redis://host:6379, or rediss:// with TLS')
    .option(...WORKERS)
    .action(async (options: Shared & Long & { queue: string }) =>
      (await import('./search-work.js')).workCommand(options),
    );

  command(
    'verify',
    'Do the promised measures still hold? (for CI)',
    ['tuning', 'set', 'abilities', 'rate', 'json', 'quiet'],
    'apperin verify data/tide-mill/brindle.promises.yaml',
  )
    .argument('<files...>', 'promises (*.promises.yaml), and a tuning unless they name it')
    .option('--junit <file>', 'write the result as JUnit XML')
    .option(...WORKERS)
    .action(async (files: string[], options: Shared & Long & { junit?: string }) =>
      (await import('./verify.js')).verifyCommand(files, options),
    );

  command(
    'design',
    'I want it this high, this far, this quick: which numbers?',
    ['tuning', 'set', 'rate', 'out', 'json', 'quiet'],
    'apperin design data/tide-mill/brindle.tuning.yaml height=3 riseTime=0.4 reach=6 --out hop.tuning.yaml',
  )
    .argument('<words...>', 'goals (height=3 stopping=0.5), and a tuning to start from')
    .option('--free <key>', 'a key that may be moved (then no other is), and how far: run.speed=5..9', collect)
    .action(async (words: string[], options: Shared & { free?: string[] }) =>
      (await import('./design.js')).designCommand(words, options),
    );

  capturing(
    command(
      'fit',
      'Here is a recorded motion: which numbers would make it?',
      ['tuning', 'set', 'out', 'json', 'quiet'],
      'apperin fit data/tide-mill/old-hand.capture.csv --scale 16 --out found.tuning.yaml',
    ),
  ).action(async (files: string[], options: Captured) => (await import('./fit.js')).fitCommand(files, options));

  command(
    'report',
    'All of it for one character, as a page to keep.',
    ['tuning', 'level', 'set', 'abilities', 'rate', 'out', 'json', 'quiet'],
    'apperin report data/tide-mill/brindle.tuning.yaml data/tide-mill/yard.level.yaml --out brindle.report.html',
  )
    .option(...WORKERS)
    .argument('[files...]', 'a tuning, a second one to compare it with, levels to look where it gets to')
    .action(async (files: string[], options: Shared & Long) =>
      (await import('./report.js')).reportCommand(files, options),
    );

  command(
    'loft',
    'Tune it by hand, in the level, live: an app in the browser on these files.',
    ['abilities', 'json', 'quiet'],
    'apperin loft data/tide-mill/brindle.tuning.yaml data/tide-mill/saltreave.level.svg',
  )
    .argument('[files...]', 'tunings, a level, inputs and keys; the demo data unless given')
    .option('--port <n>', 'the port on the loopback address (a free one unless given)', between(1, 65535, 'a port'))
    .option('--open', 'open it in the browser')
    .action(async (files: string[], options: Shared & { port?: number; open?: boolean }) =>
      (await import('./loft.js')).loftCommand(files, options),
    );

  command('demo', 'Show everything on the demo data.', ['out', 'json', 'quiet'], 'apperin demo').action(
    async (options: Shared) => (await import('./demo.js')).demo(options),
  );

  equip(program.command('help').description('Explain a command.'), [], 'apperin help draw arcs')
    .argument('[command...]', 'which one')
    .action((words: string[]) => explain(program, words));

  equip(
    program.command('completion').description('What a shell needs to complete commands, options and files.'),
    [],
    'source <(apperin completion bash)',
  )
    .argument('<shell>', 'bash, zsh or fish')
    .action(async (shell: string) => (await import('./completion.js')).completion(program, shell));

  return program;
}

/** `apperin help`: explains the command that the words name. */
function explain(program: Command, words: readonly string[]): void {
  let at = program;
  for (const word of words) {
    const next = at.commands.find((one) => one.name() === word);
    if (!next) {
      const all = at.commands.map((one) => one.name());
      const meant = nearest(word, all);
      throw new CallError(`there is no command ${word}${meant ? `; did you mean ${meant}?` : `; there are ${all.join(', ')}`}`);
    }
    at = next;
  }
  at.outputHelp();
} // prettier-ignore

/**
 * Answers a call of the command line.
 * @param args what was typed after `apperin`
 * @param of where its output goes
 * @returns its exit status
 */
export async function answer(args: readonly string[], of: Pick<Call, 'out' | 'err' | 'watched' | 'stdin'>): Promise<number> {
  const now: Call = { ...of, status: EXIT.done, inputs: new Map(), outputs: new Map(), abilities: [], taken: false };
  await during(now, async () => {
    const program = commands();
    try {
      if (args.length === 0) {
        program.outputHelp();
        now.status = EXIT.wrong;
      } else await program.parseAsync(args, { from: 'user' });
    } catch (error) {
      if (error instanceof CommanderError) now.status = error.exitCode === 0 ? EXIT.done : EXIT.wrong;
      else fail(error);
    }
  });
  return now.status;
} // prettier-ignore
