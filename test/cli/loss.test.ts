import { expect } from 'chai';
import { execFileSync } from 'node:child_process';
import { copyFileSync, existsSync, linkSync, lstatSync, mkdirSync, readFileSync, readdirSync, renameSync, rmSync, symlinkSync, writeFileSync } from 'node:fs'; // prettier-ignore
import { join } from 'node:path';
import { setImmediate as turn } from 'node:timers/promises';
import { DATA, apperin, serveLoft, startApperin, withFolder, type Loft } from '../support/cli.js';
import { randomizer } from '../support/random.js';
import { fully, share, shareOf } from '../support/share.js';

const [yard, leap] = [join(DATA, 'yard.level.yaml'), join(DATA, 'leap.input.csv')];
const RUN = ['run', yard, 'hero.tuning.yaml', leap];

/** A folder with a tuning, a level and an input in it. */
async function inFolder(use: (folder: string, read: (name: string) => string) => Promise<void>): Promise<void> {
  await withFolder(async (folder) => {
    copyFileSync(join(DATA, 'brindle.tuning.yaml'), join(folder, 'hero.tuning.yaml'));
    copyFileSync(yard, join(folder, 'yard.level.yaml'));
    copyFileSync(leap, join(folder, 'leap.input.csv'));
    await use(folder, (name) => readFileSync(join(folder, name), 'utf8'));
  });
}

interface Seen {
  text: string;
  mark: string;
  wrong?: string;
  refused?: string;
}

/** The Loft's server on the tuning of a folder. */
async function served(folder: string, use: (loft: Loft & { seen(): Promise<Seen>; put(text: string, mark: string): Promise<Seen & { status: number }> }) => Promise<void>, blocks?: number): Promise<void> {
  const loft = await serveLoft(['hero.tuning.yaml'], folder, blocks);
  const address = `${loft.address}files/hero.tuning.yaml`;
  const json = async (answer: Response): Promise<Seen> => (await answer.json()) as Seen;
  try {
    await use({
      ...loft,
      seen: async () => json(await fetch(address)),
      put: async (text, mark) => {
        const answer = await fetch(address, { method: 'PUT', body: text, headers: { 'if-match': `"${mark}"` } });
        return { status: answer.status, ...(await json(answer)) };
      },
    });
  } finally {
    await loft.stop();
  }
} // prettier-ignore

const leftOvers = (folder: string): string[] => readdirSync(folder).filter((name) => name.startsWith('.'));

describe('Nothing is lost: saves', () => {
  const often = { quick: 3, test: 40, deep: 100 };

  it(`on a disk that runs full answer with an error, and leave the file as it was (${shareOf(often, 'saves')})`, () =>
    inFolder(async (folder, read) => {
      const before = read('hero.tuning.yaml');
      // A file may have 8 kB here: the system writes a part of what is more, and then no more.
      await served(folder, async ({ seen, put }) => {
        const { mark } = await seen();
        for (let i = 0; i < share(often); i++) {
          const { status, refused } = await put(`# ${'x'.repeat(20_000 + i)}\n`, mark);
          expect([status, refused]).to.deep.equal([500, 'hero.tuning.yaml cannot be written: it would be longer than a file may be here']);
          expect(read('hero.tuning.yaml')).to.equal(before);
          expect(leftOvers(folder)).to.deep.equal([]);
        }
        expect((await put('run: { speed: 5 }\n', mark)).status).to.equal(200);
        expect(read('hero.tuning.yaml')).to.equal('run: { speed: 5 }\n');
      }, 16); // prettier-ignore
    }));

  it(`of two pages at once: one is told that it is saved, the other that the file has changed (${shareOf(often, 'pairs')})`, () =>
    inFolder(async (folder, read) => {
      await served(folder, async ({ seen, put }) => {
        for (let i = 0; i < share(often); i++) {
          const { mark } = await seen();
          const texts = ['a', 'b'].map((page) => `run: { speed: ${i + 1} } # ${page}${'.'.repeat(i * 997)}\n`);
          const answers = await Promise.all(texts.map((text) => put(text, mark)));
          expect(answers.map(({ status }) => status).sort()).to.deep.equal([200, 412]);
          const won = texts[answers.findIndex(({ status }) => status === 200)]!;
          expect(read('hero.tuning.yaml')).to.equal(won);
          expect(answers.find(({ status }) => status === 412)!.text).to.equal(won);
        }
      });
    }));

  fully(`never go over what an editor writes meanwhile (${shareOf(often, 'times')})`, function () {
    return inFolder(async (folder, read) => {
      const random = randomizer(7);
      const counts: Record<string, number> = {};
      await served(folder, async ({ seen, put }) => {
        for (let i = 0; i < share(often); i++) {
          const before = `# before ${i} ${'.'.repeat(200_000)}\n`;
          writeFileSync(join(folder, 'hero.tuning.yaml'), before);
          await put('', '');
          const { mark } = await seen();
          const saved = put(`# page ${i} ${'.'.repeat(200_000)}\n`, mark);
          // Somewhere in the course of the save, which is told by what else the server answers meanwhile.
          for (let n = random.whole(0, 12); n > 0; n--) await seen();
          writeFileSync(join(folder, 'hero.tuning.yaml'), `# editor ${i}\n`);
          const { status } = await saved;
          counts[status] = (counts[status] ?? 0) + 1;
          expect(status).to.be.oneOf([200, 412]);
          expect(read('hero.tuning.yaml')).to.equal(`# editor ${i}\n`);
          expect(leftOvers(folder)).to.deep.equal([]);
        }
      });
      this.test!.title += ` (${JSON.stringify(counts)})`;
    });
  });

  const UNREADABLE: readonly [string, (file: string) => void, RegExp][] = [
    ['Latin-1', (file) => writeFileSync(file, Buffer.from('# caf\xe9\nrun: { speed: 6 }\n', 'latin1')), /UTF-8: here is the byte E9/],
    ['UTF-16', (file) => writeFileSync(file, Buffer.from('\ufeffrun: { speed: 6 }\n', 'utf16le')), /UTF-16/],
    ['too large', (file) => writeFileSync(file, '#'.repeat((1 << 22) + 1)), /4194305 bytes/],
    ['a folder', (file) => (rmSync(file), mkdirSync(file)), /a folder/],
    ['a pipe', (file) => (rmSync(file), execFileSync('mkfifo', [file])), /a pipe/],
  ]; // prettier-ignore
  for (const [what, become, says] of UNREADABLE.slice(0, share({ quick: 0, test: 5, deep: 5 })))
    it(`leave alone what became unreadable and has not been seen (${what})`, () =>
      inFolder(async (folder, read) => {
        const file = join(folder, 'hero.tuning.yaml');
        await served(folder, async ({ seen, put }) => {
          const first = await seen();
          become(file);
          const bytes = lstatSync(file).isFile() ? read('hero.tuning.yaml') : '';
          const answer = await put('run: { speed: 5 }\n', first.mark);
          expect([answer.status, answer.refused, answer.wrong]).to.satisfy(([status, refused, wrong]: [number, string, string]) => status === 409 && says.test(refused) && says.test(wrong));
          // Whoever decides for what is on the page does not get it written over this either.
          expect((await put('run: { speed: 5 }\n', answer.mark)).status).to.equal(409);
          if (lstatSync(file).isFile()) expect(read('hero.tuning.yaml')).to.equal(bytes);
          rmSync(file, { recursive: true });
          const gone = await put('run: { speed: 5 }\n', first.mark);
          expect([gone.status, gone.wrong]).to.deep.equal([412, 'there is no such file']);
          expect((await put('run: { speed: 5 }\n', gone.mark)).status).to.equal(200);
          expect(read('hero.tuning.yaml')).to.equal('run: { speed: 5 }\n');
        });
      })); // prettier-ignore

  const kills = { quick: 1, test: 5, deep: 50 };
  fully(
    `that are killed leave the old file or the new one, and nothing beside it for long (${shareOf(kills, 'kills')})`,
    () =>
      inFolder(async (folder, read) => {
        const random = randomizer(3);
        for (let i = 0; i < share(kills); i++) {
          const texts = new Set([read('hero.tuning.yaml')]);
          const loft = await serveLoft(['hero.tuning.yaml'], folder);
          const address = `${loft.address}files/hero.tuning.yaml`;
          let { mark } = (await (await fetch(address)).json()) as Seen;
          const save = async (n: number): Promise<void> => {
            const body = `# ${i} ${n} ${'.'.repeat(900_000)}\n`;
            texts.add(body);
            const answer = await fetch(address, { method: 'PUT', body, headers: { 'if-match': `"${mark}"` } });
            ({ mark } = (await answer.json()) as Seen);
          };
          await save(0);
          const saving = save(1).catch(() => undefined);
          for (let n = random.whole(0, 300); n > 0; n--) await turn();
          loft.kill();
          await saving;
          expect(texts.has(read('hero.tuning.yaml')), 'whole').to.equal(true);
        }
        await served(folder, async ({ seen, put }) => {
          expect((await put('run: { speed: 5 }\n', (await seen()).mark)).status).to.equal(200);
        });
        expect(leftOvers(folder)).to.deep.equal([]);
      }),
  );

  it('sweep up what killed ones left, and only that', () =>
    inFolder(async (folder) => {
      // Nobody has a process of this number.
      writeFileSync(join(folder, '.apperin-4194305-1.part'), 'half');
      writeFileSync(join(folder, `.apperin-${process.ppid}-1.part`), 'being written');
      writeFileSync(join(folder, '.apperin-notes.part'), 'mine');
      await apperin([...RUN, '--trace', 'a.trace.csv'], folder);
      expect(leftOvers(folder).sort()).to.deep.equal([`.apperin-${process.ppid}-1.part`, '.apperin-notes.part']);
    }));

  fully('keep the rights of a file, go through a link to it, and keep its mark of UTF-8', () =>
    inFolder(async (folder, read) => {
      renameSync(join(folder, 'hero.tuning.yaml'), join(folder, 'real.tuning.yaml'));
      writeFileSync(join(folder, 'real.tuning.yaml'), '\uFEFFrun: { speed: 4 }\n', { mode: 0o640 });
      execFileSync('chmod', ['640', join(folder, 'real.tuning.yaml')]);
      symlinkSync('real.tuning.yaml', join(folder, 'hero.tuning.yaml'));
      await served(folder, async ({ seen, put }) => {
        expect((await put('run: { speed: 5 }\n', (await seen()).mark)).status).to.equal(200);
      });
      expect(lstatSync(join(folder, 'hero.tuning.yaml')).isSymbolicLink()).to.equal(true);
      expect(lstatSync(join(folder, 'real.tuning.yaml')).mode & 0o777).to.equal(0o640);
      expect(read('real.tuning.yaml')).to.equal('\uFEFFrun: { speed: 5 }\n');
    }),
  );
});

describe('Nothing is lost: outputs', () => {
  fully('on a disk that runs full are an error, and nothing is written', () =>
    inFolder(async (folder, read) => {
      writeFileSync(join(folder, 'old.trace.csv'), 'tick,time,x,y,vx,vy\n0,0,0,0,0,0\n');
      for (const [args, file] of [
        [[...RUN, '--trace', 'old.trace.csv'], 'old.trace.csv'],
        [['report', 'hero.tuning.yaml', '--out', 'a.html'], 'a.html'],
        [['draw', 'arcs', 'hero.tuning.yaml', '--out', 'a.png'], 'a.png'],
      ] as const) {
        const { status, out, err } = startApperin(args, folder, 16);
        expect([status, err.includes(`${file} cannot be written: it would be longer`), (out + err).includes('wrote')]).to.deep.equal([2, true, false]);
      }
      expect(read('old.trace.csv')).to.equal('tick,time,x,y,vx,vy\n0,0,0,0,0,0\n');
      expect(readdirSync(folder).sort()).to.deep.equal(['hero.tuning.yaml', 'leap.input.csv', 'old.trace.csv', 'yard.level.yaml']);
    })); // prettier-ignore

  /** What is written, where, and why not; `over`: what is there already. */
  const REFUSED: readonly [title: string, args: string[], file: string, says: RegExp, over?: string][] = [
    ['a trace over its own tuning', [...RUN, '--trace', 'hero.tuning.yaml'], 'hero.tuning.yaml', /of another kind \(tuning\) than a trace/],
    ['events over the input', ['run', 'yard.level.yaml', 'hero.tuning.yaml', 'leap.input.csv', '--events', 'leap.input.csv'], 'leap.input.csv', /of another kind \(input\)/],
    ['a drawing over a tuning', ['convert', 'yard.level.yaml', '--out', 'hero.tuning.yaml'], 'hero.tuning.yaml', /of another kind \(tuning\) than a level/],
    ['a level over itself', ['convert', 'yard.level.yaml', '--to', 'drawing', '--out', 'yard.level.yaml'], 'yard.level.yaml', /what this call reads/],
    ['a figure over a drawn level', ['draw', 'arcs', 'hero.tuning.yaml', '--out', 'mill.level.svg'], 'mill.level.svg', /of another kind \(level\)/, '<svg xmlns="http://www.w3.org/2000/svg"/>'],
    ['a figure over a drawing of another name', ['draw', 'arcs', 'hero.tuning.yaml', '--out', 'mine.svg'], 'mine.svg', /something else than a figure/, '<svg xmlns="http://www.w3.org/2000/svg"><rect/></svg>'],
    ['a picture over a text', ['draw', 'arcs', 'hero.tuning.yaml', '--out', 'a.png'], 'a.png', /something else than a figure/, 'notes'],
    ['a trace over notes', [...RUN, '--trace', 'notes.txt'], 'notes.txt', /something else than a trace/, 'notes'],
    ['results over promises', ['verify', 'p.promises.yaml', '--junit', 'p.promises.yaml'], 'p.promises.yaml', /of another kind \(promises\)/, 'tuning: hero.tuning.yaml\npromises: [{ measure: apexHeight, least: 1 }]\n'],
    ['results over a YAML file', ['verify', join(DATA, 'brindle.promises.yaml'), '--junit', 'ci.yaml'], 'ci.yaml', /something else than results of verify/, 'jobs: {}\n'],
    ['a report over a page', ['report', 'hero.tuning.yaml', '--out', 'index.html'], 'index.html', /something else than a report/, '<!doctype html><title>Mine</title>'],
    ['a tuning over the one it starts from', ['design', 'hero.tuning.yaml', 'height=3', '--out', 'hero.tuning.yaml'], 'hero.tuning.yaml', /what this call reads/],
    ['a tuning over another one', ['design', 'height=3', '--out', 'hero.tuning.yaml'], 'hero.tuning.yaml', /is there already/],
    ['two outputs in one file', [...RUN, '--trace', 'both.csv', '--events', 'both.csv'], 'both.csv', /has written both.csv there|something else than events/],
  ]; // prettier-ignore
  for (const [title, args, file, says, over] of REFUSED)
    it(`never replace anything else: ${title}`, () =>
      inFolder(async (folder, read) => {
        if (over !== undefined) writeFileSync(join(folder, file), over);
        const before = existsSync(join(folder, file)) ? read(file) : undefined;
        const { status, err } = await apperin(args, folder);
        expect([status, err]).to.satisfy(([code, text]: [number, string]) => code === 2 && says.test(text));
        if (before !== undefined) expect(read(file)).to.equal(before);
      }));

  it('never replace an input of the call under another name of it', () =>
    inFolder(async (folder, read) => {
      const before = read('hero.tuning.yaml');
      symlinkSync('hero.tuning.yaml', join(folder, 'soft.csv'));
      linkSync(join(folder, 'hero.tuning.yaml'), join(folder, 'hard.csv'));
      mkdirSync(join(folder, 'sub'));
      for (const file of ['soft.csv', 'hard.csv', 'sub/../soft.csv']) {
        const { status, err } = await apperin([...RUN, '--trace', file], folder);
        expect([status, /which this call reads|something else than a trace/.test(err)], err).to.deep.equal([2, true]);
      }
      // What a tuning comes from is read too.
      writeFileSync(join(folder, 'child.tuning.yaml'), 'from: hero.tuning.yaml\n');
      const { err } = await apperin(['run', yard, 'child.tuning.yaml', leap, '--trace', 'hard.csv'], folder);
      expect(err).to.match(/which this call reads|something else than a trace/);
      expect(read('hero.tuning.yaml')).to.equal(before);
    }));

  it('are never written into what is no file', () =>
    inFolder(async (folder) => {
      execFileSync('mkfifo', [join(folder, 'pipe.svg')]);
      mkdirSync(join(folder, 'folder.svg'));
      symlinkSync('nowhere.svg', join(folder, 'link.svg'));
      for (const [file, says] of [
        ['pipe.svg', 'a pipe'],
        ['folder.svg', 'a folder'],
        ['link.svg', 'a link to a place that is not there'],
      ] as const) {
        const { status, err } = await apperin(['draw', 'arcs', 'hero.tuning.yaml', '--out', file], folder);
        expect([status, err.includes(says)], err).to.deep.equal([2, true]);
      }
      const { status, err } = await apperin([...RUN, '--trace', '/dev/null'], folder);
      expect([status, err.includes('a device')], err).to.deep.equal([2, true]);
      expect(lstatSync(join(folder, 'pipe.svg')).isFIFO() && lstatSync('/dev/null').isCharacterDevice()).to.equal(true);
    }));

  fully('that were not named replace nothing: they get a number', () =>
    inFolder(async (folder, read) => {
      const reach = ['draw', 'envelope', 'hero.tuning.yaml', '--reach', '2,0.1', '--out', 'far.svg'];
      writeFileSync(join(folder, 'far.level.yaml'), 'mine');
      expect((await apperin(reach, folder)).err).to.contain('wrote far-2.level.yaml and far-2.input.csv');
      expect(read('far.level.yaml')).to.equal('mine');
      // The same again is the same files.
      expect((await apperin(reach, folder)).err).to.contain('wrote far-2.level.yaml and far-2.input.csv');
      writeFileSync(join(folder, 'arcs.svg'), 'mine');
      expect((await apperin(['draw', 'arcs', 'hero.tuning.yaml'], folder)).err).to.equal('wrote arcs-2.svg\n');
      writeFileSync(join(folder, 'hero.report.html'), 'mine');
      expect((await apperin(['report', 'hero.tuning.yaml'], folder)).err).to.equal('wrote hero-2.report.html\n');
      expect([read('arcs.svg'), read('hero.report.html')]).to.deep.equal(['mine', 'mine']);
    }),
  );

  fully('replace what is of their own sort, where it was named', () =>
    inFolder(async (folder) => {
      for (const args of [
        [...RUN, '--trace', 'a.csv', '--events', 'a.jsonl'],
        ['draw', 'arcs', 'hero.tuning.yaml', '--out', 'a.svg'],
        ['draw', 'arcs', 'hero.tuning.yaml', '--out', 'a.png'],
        ['report', 'hero.tuning.yaml', '--out', 'a.html'],
        ['convert', 'yard.level.yaml', '--out', 'a.level.svg'],
        ['convert', 'yard.level.yaml', '--to', 'edges', '--out', 'a.json'],
        ['verify', join(DATA, 'brindle.promises.yaml'), '--junit', 'a.xml'],
      ])
        for (let i = 0; i < 2; i++) expect((await apperin(args, folder)).status, args.join(' ')).to.be.oneOf([0, 1]);
    }),
  );
});

describe('What is said', () => {
  it('has no control characters in it, wherever they come from', async () => {
    const evil = '\u001b[31m\u0007\u202e';
    for (const args of [
      ['sheet', `${evil}.tuning.yaml`],
      ['sheet', evil],
      ['sheet', `--set`, `run.${evil}=1`],
      ['sheet', `--${evil}`],
      [evil],
      ['run', yard, '--at', evil],
      ['draw', 'arcs', '--out', `/nowhere${evil}/a.svg/b.svg`],
      ['design', `height=${evil}`],
    ]) {
      const { out, err } = await apperin(args);
      expect(out + err, args.join(' ')).to.match(/^[^\p{Cc}\u202e]*(\n[^\p{Cc}\u202e]*)*$/u);
    }
    const level = `title: "${'\\e[31m'}"\nrows: ["@.", "##"]\n`;
    const told = await apperin(['run', '-', '--seconds', '0.1'], undefined, level);
    expect([told.status, told.out.includes('\\u001b[31m')], told.err).to.deep.equal([0, true]);
  });
});

describe('Standard input and output, as -', () => {
  const text = (name: string): string => readFileSync(join(DATA, name), 'utf8');

  it('takes every kind of file, told by what is in it', async () => {
    for (const name of ['brindle.tuning.yaml', 'yard.level.yaml', 'lifts.level.svg', 'leap.input.csv', 'brindle.promises.yaml'])
      expect((await apperin(['check', '-'], undefined, text(name))).err, name).to.equal('');
    const asFile = await apperin(['run', yard, join(DATA, 'brindle.tuning.yaml'), leap, '--json']);
    for (const [kind, rest] of [
      ['yard.level.yaml', [join(DATA, 'brindle.tuning.yaml'), leap]],
      ['leap.input.csv', [yard, join(DATA, 'brindle.tuning.yaml')]],
    ] as const)
      expect((await apperin(['run', '-', ...rest, '--json'], undefined, text(kind))).out).to.equal(asFile.out);
    const named = await apperin(['run', yard, leap, '--tuning', '-', '--json'], undefined, text('brindle.tuning.yaml'));
    expect(JSON.parse(named.out)).to.deep.equal({ ...(JSON.parse(asFile.out) as object), tuning: 'tuning' });
    expect((await apperin(['sheet', '-'], undefined, 'run: { sped: 1 }\n')).err).to.contain('standard input:1:8: there is no key run.sped');
    expect((await apperin(['compare', '-', '-'], undefined, '')).err).to.contain('standard input (-) can be read for one file only');
  }); // prettier-ignore

  fully('gives every output to the byte, and what is for people elsewhere', () =>
    inFolder(async (folder, read) => {
      for (const [args, option, name] of [
        [RUN, '--trace', 'a.csv'],
        [RUN, '--events', 'a.jsonl'],
        [['draw', 'arcs', 'hero.tuning.yaml'], '--out', 'a.svg'],
        [['report', 'hero.tuning.yaml'], '--out', 'a.html'],
        [['convert', 'yard.level.yaml'], '--out', 'a.level.svg'],
        [['design', 'height=3'], '--out', 'a.tuning.yaml'],
        [['verify', join(DATA, 'brindle.promises.yaml')], '--junit', 'a.xml'],
      ] as const) {
        const { status } = await apperin([...args, option, name], folder);
        const through = await apperin([...args, option, '-'], folder);
        expect([through.status, through.out], args.join(' ')).to.deep.equal([status, read(name)]);
      }
      const png = startApperin(['draw', 'arcs', 'hero.tuning.yaml', '--format', 'png', '--out', '-'], folder);
      expect(png.out.slice(1, 4)).to.equal('PNG');
      for (const args of [
        [...RUN, '--trace', '-', '--events', '-'],
        [...RUN, '--trace', '-', '--json'],
      ]) {
        const { status, out, err } = await apperin(args, folder);
        expect([status, out, err.includes('both want standard output')]).to.deep.equal([2, '', true]);
      }
      expect((await apperin(['demo', '--out', '-'], folder)).err).to.contain('writes a folder');
      expect((await apperin(['new', '-'], folder)).err).to.contain('writes a folder');
    }),
  );
});
