import { spawnSync } from 'node:child_process';
import { existsSync, mkdirSync, readFileSync, readdirSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { readTuning } from 'apperin/files';
import { expect } from 'chai';
import { DATA, apperin, interrupted, withFolder } from '../support/cli.js';
import { fully } from '../support/share.js';

const brindle = join(DATA, 'brindle.tuning.yaml');
const nimble = join(DATA, 'nimble.tuning.yaml');
const spring = join(DATA, 'spring.tuning.yaml');
const yard = join(DATA, 'yard.level.yaml');
const leap = join(DATA, 'leap.input.csv');

const COMMANDS = ['new', 'check', 'sheet', 'run', 'survey', 'draw', 'convert', 'compare', 'vary', 'search', 'verify', 'design', 'fit', 'report', 'loft', 'demo', 'help', 'completion']; // prettier-ignore

/** Whether a shell is here. */
const has = (shell: string): boolean => spawnSync(shell, ['-c', 'true']).status === 0;

describe('Conventions of the command line', () => {
  it('explains a command by -h, --help and help alike', async () => {
    for (const words of [['run'], ['draw', 'envelope'], ['design']]) {
      const [short, long, help] = await Promise.all([apperin([...words, '-h']), apperin([...words, '--help']), apperin(['help', ...words])]); // prettier-ignore
      expect(short.out).to.contain(`Usage: apperin ${words.join(' ')}`);
      expect([short.status, help.status]).to.deep.equal([0, 0]);
      expect(long.out).to.equal(short.out);
      expect(help.out).to.equal(short.out);
    }
    expect((await apperin(['help'])).out).to.equal((await apperin(['--help'])).out);
    const wrong = await apperin(['help', 'shet']);
    expect([wrong.status, wrong.err]).to.deep.equal([2, 'there is no command shet; did you mean sheet?\n']);
  });

  fully('says what was written on standard error, in every command', async () => {
    await withFolder(async (folder) => {
      for (const [args, file] of [
        [['draw', 'arcs', brindle, '--out', 'a.svg'], 'a.svg'],
        [['draw', 'level', yard, '--out', 'l.svg'], 'l.svg'],
        [['draw', 'trace', yard, brindle, leap, '--out', 't.svg'], 't.svg'],
        [['draw', 'envelope', spring, '--out', 'e.svg'], 'e.svg'],
        [['report', brindle, '--out', 'b.report.html'], 'b.report.html'],
        [['convert', yard, '--out', 'y.level.svg'], 'y.level.svg'],
        [['convert', yard, '--to', 'edges', '--out', 'y.json'], 'y.json'],
        [['compare', brindle, nimble, '--out', 'c.svg'], 'c.svg'],
        [['vary', brindle, 'jump.height=2,3', '--out', 'v.svg'], 'v.svg'],
        [['design', 'height=3', '--out', 'd.tuning.yaml'], 'd.tuning.yaml'],
        [['run', yard, brindle, leap, '--trace', 'r.trace.csv'], 'r.trace.csv'],
        [['verify', join(DATA, 'brindle.promises.yaml'), '--junit', 'p.xml'], 'p.xml'],
        [['new', 'mine'], 'mine/first.input.csv'],
      ] as const) {
        const { status, out, err } = await apperin(args, folder);
        expect(status, err).to.be.oneOf([0, 1]);
        expect(existsSync(join(folder, file)), args.join(' ')).to.equal(true);
        expect(err, args.join(' ')).to.match(new RegExp(`^wrote .*${file.replaceAll('.', '\\.')}$`, 'm'));
        expect(out, args.join(' ')).to.not.contain('wrote');
      }
    });
  });

  it('refuses a bad option before any work is done', async () => {
    await withFolder(async (folder) => {
      // The files do not even exist: it is the option that is complained of.
      for (const [args, message] of [
        [['draw', 'arcs', 'no.tuning.yaml', '--format', 'gif'], '--format gif: it must be svg or png'],
        [['draw', 'arcs', 'no.tuning.yaml', '--out', 'a.gif'], '--out a.gif: its name must end in .svg or .png'],
        [['draw', 'trace', 'no.level.yaml', '--out', 'a.gif'], '--out a.gif: its name must end in .svg or .png'],
        [['draw', 'level', 'no.level.yaml', '--out', 'a.png', '--format', 'svg'], '--out a.png and --format svg disagree'],
        [['vary', 'no.tuning.yaml', 'jump.height=2', '--out', 'a.gif'], '--out a.gif: its name must end in .svg or .png'],
        [['vary', 'no.tuning.yaml', 'jump.height=2', '--format', 'gif'], '--format gif: it must be svg or png'],
        [['compare', 'no.level.yaml', '--rates', '30,x'], '--rates 30,x: it must be two or more rates'],
        [['compare', 'no.level.yaml', '--rates', '30'], '--rates 30: at least two rates are compared'],
        [['convert', 'no.level.yaml', '--to', 'pixels'], '--to pixels: it must be rows, drawing, edges'],
        [['report', 'no.tuning.yaml', '--out', 'a.pdf'], '--out a.pdf: its name must end in .html'],
        [['design', 'no.tuning.yaml', 'height=3', '--out', 'a.txt'], '--out a.txt: its name must end in .tuning.yaml'],
        [['design', 'no.tuning.yaml', 'height=3', '--free', 'a=b=c'], '--free a=b=c: it must be a key'],
        [['run', 'no.level.yaml', '--trace', folder], 'and no file'],
        [['run', 'no.level.yaml', '--trace', 'x.csv', '--events', 'x.csv'], '--trace and --events are both x.csv'],
        [['verify', 'no.promises.yaml', '--junit', folder], 'and no file'],
      ] as const) {
        const { status, out, err } = await apperin(args, folder);
        expect([status, out], args.join(' ')).to.deep.equal([2, '']);
        expect(err, args.join(' ')).to.contain(message);
      }
      expect(readdirSync(folder)).to.deep.equal([]);
    });
  }); // prettier-ignore

  it('prints paths as they have to be typed', async () => {
    await withFolder(async (outer) => {
      const folder = join(outer, "Ida's new game");
      mkdirSync(folder);
      const { out } = await apperin(['new', 'first go'], folder);
      expect(out).to.equal("Next: apperin run 'first go/first.level.yaml' 'first go/hero.tuning.yaml' 'first go/first.input.csv'\n"); // prettier-ignore
      // A shell takes it for the words that are meant.
      const typed = out.slice('Next: apperin '.length).trim();
      const words = spawnSync('sh', ['-c', `printf '%s\\n' ${typed}`], { encoding: 'utf8' })
        .stdout.trim()
        .split('\n');
      expect((await apperin(words, folder)).status).to.equal(0);
      const whole = await apperin(['new', folder], outer);
      const quoted = spawnSync('sh', ['-c', `printf '%s\\n' ${whole.out.slice('Next: apperin '.length).trim()}`], { encoding: 'utf8' }).stdout.trim().split('\n'); // prettier-ignore
      expect((await apperin(quoted)).status).to.equal(0);
    });
  });

  fully('says how far a long run is, and keeps what was played when it is interrupted', async () => {
    await withFolder(async (folder) => {
      const args = ['run', yard, brindle, leap, '--seconds', '80000', '--events', 'long.events.jsonl'];
      const { status, out, err } = await interrupted(args, 'still at it', folder);
      expect(status, err).to.equal(0);
      expect(err).to.match(/interrupted: (\d+)0000 of 4800000 ticks/);
      const played = Number(/interrupted: (\d+) of/.exec(err)![1]);
      const last = JSON.parse(
        readFileSync(join(folder, 'long.events.jsonl'), 'utf8').trimEnd().split('\n').at(-1)!,
      ) as { time: number };
      expect(last.time).to.be.at.most(played / 60);
      expect(out).to.contain(`: ${(played / 60).toFixed(3)} s at 60`);
      expect(out).to.contain('At the end:');
    });
  });

  it('is JSON where JSON is asked for: a level converted too', async () => {
    for (const [to, start] of [
      [[], '<svg '],
      [['--to', 'drawing'], '<svg '],
    ] as const) {
      const { out, err } = await apperin(['convert', yard, ...to, '--json']);
      const said = JSON.parse(out) as { converted: string; to: string; text: string };
      expect([said.converted, said.to, err]).to.deep.equal([yard, 'drawing', '']);
      expect(said.text.startsWith(start)).to.equal(true);
    }
    const edges = JSON.parse((await apperin(['convert', yard, '--to', 'edges', '--json'])).out) as { edges: unknown[] };
    expect(edges.edges.length).to.be.greaterThan(10);
    await withFolder(async (folder) => {
      const { out, err } = await apperin(['convert', yard, '--json', '--out', 'y.level.svg'], folder);
      expect([JSON.parse(out), err]).to.deep.equal([{ converted: yard, to: 'drawing', file: 'y.level.svg' }, '']);
    });
  });
});

describe('Completion', () => {
  const script = async (shell: string): Promise<string> => (await apperin(['completion', shell])).out;

  it('is made for three shells, and for no other', async () => {
    const { status, err } = await apperin(['completion', 'tcsh']);
    expect([status, err]).to.deep.equal([2, 'tcsh: there is no completion for it; there are bash, zsh, fish\n']);
  });

  it('works in bash: commands, options, their words, files of the kinds there are', async () => {
    await withFolder(async (folder) => {
      for (const name of ['hero.tuning.yaml', 'hero.txt', 'yard.level.svg']) writeFileSync(join(folder, name), '');
      writeFileSync(join(folder, 'apperin.bash'), await script('bash'));
      const complete = (...words: string[]): string[] => {
        const asked = `source ./apperin.bash; COMP_WORDS=(${words.map((word) => `'${word}'`).join(' ')}); COMP_CWORD=${words.length - 1}; _apperin; printf '%s\\n' "\${COMPREPLY[@]}"`;
        return spawnSync('bash', ['-c', asked], { cwd: folder, encoding: 'utf8' }).stdout.trim().split('\n').sort();
      };
      expect(complete('apperin', '')).to.deep.equal([...COMMANDS].sort());
      expect(complete('apperin', 'co')).to.deep.equal(['compare', 'completion', 'convert']);
      expect(complete('apperin', 'draw', 'e')).to.deep.equal(['envelope']);
      expect(complete('apperin', 'help', 'dr')).to.deep.equal(['draw']);
      expect(complete('apperin', 'run', '--s')).to.deep.equal(['--seconds', '--set', '--shapes']);
      expect(complete('apperin', 'draw', 'envelope', '--be')).to.deep.equal(['--below']);
      expect(complete('apperin', 'convert', '--to', '')).to.deep.equal(['drawing', 'edges', 'rows']);
      expect(complete('apperin', 'sheet', '')).to.deep.equal(['hero.tuning.yaml', 'yard.level.svg']);
      expect(complete('apperin', 'completion', '')).to.deep.equal(['bash', 'fish', 'zsh']);
    });
  });

  it('works in fish', async function () {
    if (!has('fish')) return this.skip();
    await withFolder(async (folder) => {
      writeFileSync(join(folder, 'apperin.fish'), await script('fish'));
      const complete = (line: string): string[] =>
        spawnSync('fish', ['-c', `source ./apperin.fish; complete -C '${line}'`], { cwd: folder, encoding: 'utf8', env: { ...process.env, HOME: folder } }).stdout.trim().split('\n').map((one) => one.split('\t')[0]!).sort(); // prettier-ignore
      expect(complete('apperin co')).to.deep.equal(['compare', 'completion', 'convert']);
      expect(complete('apperin draw e')).to.deep.equal(['envelope']);
      expect(complete('apperin run --se')).to.deep.equal(['--seconds', '--set']);
      expect(complete('apperin convert --order ')).to.deep.equal(['position-first', 'velocity-first']);
    });
  });

  it('works in zsh', async function () {
    if (!has('zsh')) return this.skip();
    await withFolder(async (folder) => {
      writeFileSync(join(folder, '_apperin'), await script('zsh'));
      // The helpers of zsh only say what they are asked for.
      const complete = (...words: string[]): string => {
        const asked = `compdef() {}; _describe() { print -l -- \${(P)2} }; _arguments() { print -l -- "$@" }; source ./_apperin; words=(${words.map((word) => `'${word}'`).join(' ')}); CURRENT=${words.length}; _apperin`;
        return spawnSync('zsh', ['-fc', asked], { cwd: folder, encoding: 'utf8' }).stdout;
      };
      const names = complete('apperin', '').trim().split('\n').map((line) => line.split(':')[0]); // prettier-ignore
      expect(names).to.deep.equal(COMMANDS);
      expect(complete('apperin', 'draw', '')).to.match(/^envelope:Everything/m);
      expect(complete('apperin', 'run', '')).to.match(/\*--seconds\[how long to play\]:value:_files/);
      expect(complete('apperin', 'convert', '')).to.match(/\*--to\[.*\]:value:\(rows drawing edges\)/);
      const real = spawnSync('zsh', ['-fc', 'autoload -U compinit; compinit -u -D; source ./_apperin; print $_comps[apperin]'], { cwd: folder, encoding: 'utf8' }); // prettier-ignore
      expect(real.stdout).to.equal('_apperin\n');
    });
  });
});

describe('The lab by the command line', () => {
  it('design moves what is free and nothing else, the jump’s own goals too', async () => {
    const stuck = await apperin(['design', brindle, 'height=4', '--free', 'gravity.falling']);
    expect(stuck.status).to.equal(1);
    expect(stuck.out).to.match(/height comes to 3\.25, not 4: with gravity\.falling, which height\s+does\s+not follow/);
    await withFolder(async (folder) => {
      const args = ['design', brindle, 'airTime=0.78', '--free', 'gravity.falling', '--out', 'air.tuning.yaml'];
      expect((await apperin(args, folder)).status).to.equal(0);
      const [before, after] = [readFileSync(brindle, 'utf8'), readFileSync(join(folder, 'air.tuning.yaml'), 'utf8')];
      const changed = after.split('\n').filter((line) => !before.includes(line));
      expect(changed).to.have.length(1);
      expect(changed[0]).to.match(/^ {2}falling: /);
    });
  });

  fully('design takes every measure of the sheet as a goal, in ticks at --rate, and entries of lists', async () => {
    for (const file of [brindle, nimble, spring]) {
      const { measures } = JSON.parse((await apperin(['sheet', file, '--json'])).out) as { measures: { id: string; value: number | null }[] }; // prettier-ignore
      for (const { id, value } of measures) {
        if (value === null || value === 0) continue;
        const { status, out, err } = await apperin(['design', file, `${id}=${value * 1.02}`, '--json']);
        expect(status, `${id}: ${err}${out.slice(0, 400)}`).to.equal(0);
      }
    }
    const ticks = JSON.parse((await apperin(['design', 'coyoteTicks=6', '--rate', '50', '--json'])).out) as { keys: unknown[] }; // prettier-ignore
    expect(ticks.keys).to.deep.equal([{ key: 'grace.coyote', now: 0.12 }]);
    await withFolder(async (folder) => {
      writeFileSync(join(folder, 'two.tuning.yaml'), 'airJumps: { heights: [2, 1.5] } # two\n');
      await apperin(['design', 'two.tuning.yaml', 'airJump2Rise=1.75', '--out', 'three.tuning.yaml'], folder);
      const text = readFileSync(join(folder, 'three.tuning.yaml'), 'utf8');
      expect(text).to.contain('# two');
      expect(readTuning(text).tuning.airJumps).to.deep.equal({ heights: [2, 1.75] });
    });
  });

  it('design names what really contradicts, and what the goals would come to', async () => {
    const { status, out } = await apperin(['design', 'stopping=0.4', 'height=3', 'riseTime=0.4', 'launchSpeed=30', '--json']);
    const said = JSON.parse(out) as { conflict: string[]; contradiction: string; goals: { id: string; met: boolean; got: number }[] };
    expect(status).to.equal(1);
    expect(said.conflict).to.deep.equal(['height', 'riseTime', 'launchSpeed']);
    expect(said.contradiction).to.contain('the goals height, riseTime, launchSpeed cannot all be met');
    expect(said.goals.filter(({ met }) => met).map(({ id }) => id)).to.deep.equal(['stopping', 'height']);
    const hop = JSON.parse((await apperin(['design', 'lowestHop=4', 'height=3', '--json'])).out) as typeof said;
    expect(hop.conflict).to.deep.equal(['lowestHop', 'height']);
  }); // prettier-ignore

  it('gives the near name of what is misspelt: goals, free keys, varied keys, measures of abilities that are off', async () => {
    for (const [args, message] of [
      [['design', 'heigth=3'], 'there is no measure heigth in this tuning; did you mean height?'],
      [['design', 'height=3', '--free', 'jump.heigth'], 'there is no key jump.heigth to be moved; did you mean jump.height?'],
      [['design', brindle, 'airJump1Rise=3'], 'there is no measure airJump1Rise in this tuning: it needs airJumps'],
      [['vary', brindle, 'jmup.height=2..4/3'], 'there is no key jmup.height; did you mean jump.height?'],
      [['vary', brindle, 'run.sped=2..4/3', 'jump.height=2,3'], 'there is no key run.sped; did you mean run.speed?'],
      [['vary', brindle, 'run.speed=2,3', 'run.speed=4,5'], 'run.speed is varied twice'],
    ] as const) {
      const { status, err } = await apperin(args);
      expect(status, err).to.equal(2);
      expect(err).to.contain(message);
    }
  }); // prettier-ignore

  it('vary of two keys is a table for each measure, with every point in it', async () => {
    const { out } = await apperin(['vary', brindle, 'jump.height=2..5/4', 'gravity.falling=1..2/9']);
    const { points } = JSON.parse((await apperin(['vary', brindle, 'jump.height=2..5/4', 'gravity.falling=1..2/9', '--json'])).out) as { points: { values: number[]; measures: { id: string; value: number }[] }[] }; // prettier-ignore
    const tables = out.split(/^time in the air {2}s {2}\(/m)[1]!.split(/^\S.*\(jump\.height down/m)[0]!;
    const lines = tables.split('\n');
    expect(Math.max(...lines.map((line) => line.length))).to.be.at.most(100);
    const rows = new Map<string, string[]>();
    for (const line of lines) {
      const [first, ...values] = line.trim().split(/\s+/);
      if (/^[2-5]$/.test(first!) && values.length > 0) rows.set(first!, [...(rows.get(first!) ?? []), ...values]);
    }
    expect([...rows.keys()]).to.deep.equal(['2', '3', '4', '5']);
    for (const { values, measures } of points) {
      const column = Math.round((values[1]! - 1) * 8);
      const { value } = measures.find(({ id }) => id === 'airTime')!;
      expect(rows.get(String(values[0]))![column], values.join()).to.equal(value.toFixed(3));
    }
  });

  it('vary of one key shows every value', async () => {
    const { out } = await apperin(['vary', brindle, 'jump.height=2..5/13']);
    for (let i = 0; i < 13; i++) expect(out).to.match(new RegExp(`^measure .*\\b${2 + i * 0.25}(\\s|$)`, 'm'));
  });

  it('compare shows no difference that is none, and in tiles where tiles differ', async () => {
    await withFolder(async (folder) => {
      writeFileSync(join(folder, 'a.tuning.yaml'), 'run: { speed: 7.5 }\n');
      writeFileSync(join(folder, 'b.tuning.yaml'), 'run: { speed: 7.500001 }\njump: { height: 3.25, riseTime: 0.4 }\n');
      writeFileSync(join(folder, 'c.tuning.yaml'), 'run: { speed: 120 }\ntile: 16\n');
      const near = (await apperin(['compare', 'a.tuning.yaml', 'b.tuning.yaml'], folder)).out;
      expect(near).to.not.match(/[+-]0\.000(\s|$)/m);
      expect(near).to.match(/=$/m).and.match(/\+\d(\.\d+)?e-7$/m);
      const tiles = (await apperin(['compare', 'a.tuning.yaml', 'c.tuning.yaml'], folder)).out;
      expect(tiles).to.contain('Their tiles differ in size: lengths and speeds are in tiles.');
      expect(tiles).to.match(/^apex height +tiles +3\.250 +3\.250 +=$/m);
      // The same character: every difference is none, and no key but the tile's.
      const [keys, measures] = tiles.split(/\n\nmeasure/) as [string, string];
      expect(keys.split('──\n')[1]!.trim().split('\n')).to.have.length(1);
      expect(keys).to.match(/^tile +1 +16$/m);
      expect(measures.trim().split('\n').slice(2).filter((line) => !line.endsWith('='))).to.deep.equal([]);
    });
  }); // prettier-ignore

  it('check underlines what was set', async () => {
    const { status, err } = await apperin(['check', brindle, '--set', 'grace.coyote=0.1', '--set', 'run.speed=-1']);
    expect(status).to.equal(2);
    expect(err).to.equal('--set:2:11: run.speed is -1; it must be at least 0 and at most 67108864\n  2 | run.speed=-1\n    |           ^\n'); // prettier-ignore
    // What does not fit what was set is said of that.
    const high = await apperin(['check', brindle, '--set', 'jump.height=9']);
    expect(high.err).to.match(/^--set:1:13: jump\.lowestHop is 1\.25.*\n {2}1 \| jump\.height=9\n {4}\| {13}\^$/m);
    const goal = await apperin(['check', brindle, '--set', 'jump.reach=4']);
    expect(goal.err).to.match(/^--set:1:12: jump\.reach replaces no goal/m);
    const felt = await apperin(['check', brindle, '--set', 'grace.coyote=0.5']);
    expect(felt.status).to.equal(1);
    expect(felt.out).to.match(/^--set:1:14: warning: grace\.coyote/m);
  });

  it('draw envelope answers for characters that charge, stand, or only fall', async () => {
    await withFolder(async (folder) => {
      for (const [name, sets] of [
        ['run', []],
        ['still', ['charge.run=false']],
        ['slow', ['charge.fullIn=8']],
        ['fixed', ['run.speed=0']],
        ['walker', ['charge=off', 'jump=off']],
      ] as const) {
        const set = sets.flatMap((one) => ['--set', one]);
        const { status, out } = await apperin(['draw', 'envelope', spring, ...set, '--out', `${name}.svg`, '--json'], folder);
        const { highest, exact } = JSON.parse(out) as { highest: number; exact: boolean };
        expect([status, exact], name).to.deep.equal([0, true]);
        expect(highest, name).to.be.closeTo(name === 'walker' ? 0 : 4.5, 1e-9);
        expect(readFileSync(join(folder, `${name}.svg`), 'utf8')).to.contain('Every place within is reached');
      }
      // The keys that it writes bring the feet there.
      const made = await apperin(['draw', 'envelope', spring, '--out', 'far.svg', '--reach', '3.1,4.1', '--json'], folder);
      const { reached } = JSON.parse(made.out) as { reached: { time: number } };
      const seconds = String(reached.time + 0.4);
      const { events } = JSON.parse((await apperin(['run', 'far.level.yaml', spring, 'far.input.csv', '--seconds', seconds, '--json'], folder)).out) as { events: { event: string; by?: string }[] };
      expect(events.some(({ event, by }) => event === 'takeoff' && by === 'charge')).to.equal(true);
    });
  }); // prettier-ignore
});
