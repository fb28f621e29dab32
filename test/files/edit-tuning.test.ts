import { FileError, editTuning, readTuning, type Edit } from 'apperin/files';
import { expect } from 'chai';
import { parse } from 'yaml';
import { randomizer, type Random } from '../support/random.js';
import { share } from '../support/share.js';

type Data = Record<string, Record<string, unknown> | string>;

/** A line of a file, and the keys that it is about. */
interface Line {
  text: string;
  keys: string[];
}

const KEYS: Readonly<Record<string, Readonly<Record<string, readonly unknown[]>>>> = {
  run: { speed: [7.5, 8, 3.25], stopIn: [0.1, 0.25], feel: ['steady', 'eased'], walk: [0.4, 0.5] },
  grace: { coyote: [0.1, 0.05], buffer: [0.12, 0], lip: [0.2, 0.3] },
  glide: { fall: [3, 2], budget: [1.5, 2] },
  airJumps: { heights: [[2.25], [2, 1.5], [3, 2, 1]], spacing: [0.1, 0.2] },
  gravity: { falling: [1.8, 2], fallSpeed: [24, 30] },
};

/** A file as somebody may have written it: any indentation, spacing, comments, on one line or many. */
function madeUp(random: Random): { lines: Line[]; data: Data; eol: string; oneLine: Set<string>; json: boolean } {
  const json = random.chance(0.15);
  const step = random.pick([' ', '  ', '    ', '       ']);
  const gap = (): string => ' '.repeat(random.whole(1, 4));
  const remark = (): string => (!json && random.chance(0.4) ? `${gap()}# ${random.pick(['s', 'quick: {', 'as of old, }', 'run: 3'])}` : '');
  const lines: Line[] = [];
  const data: Data = {};
  const oneLine = new Set<string>();
  const said = (value: unknown): string => (json ? JSON.stringify(value) : Array.isArray(value) ? `[${value.join(random.pick([', ', ',']))}]` : typeof value === 'number' && random.chance(0.3) ? value.toFixed(3) : String(value));
  const named = (key: string): string => (json || random.chance(0.1) ? `"${key}"` : key);
  const groups = Object.keys(KEYS).filter(() => random.chance(0.7));
  if (json) lines.push({ text: '{', keys: [] });
  groups.forEach((group, g) => {
    const end = json && g + 1 < groups.length ? ',' : '';
    const before = json ? step : '';
    while (!json && random.chance(0.3)) lines.push({ text: random.chance(0.5) ? '' : `# About ${group}: this.`, keys: [] });
    const keys = Object.keys(KEYS[group]!).filter(() => random.chance(0.7));
    if (keys.length === 0) {
      data[group] = random.chance(0.5) ? 'off' : {};
      lines.push({ text: `${before}${named(group)}:${gap()}${data[group] === 'off' ? said('off') : '{}'}${end}${remark()}`, keys: [group] });
      return;
    }
    const values = (data[group] = Object.fromEntries(keys.map((key) => [key, random.pick([...KEYS[group]![key]!])])));
    const items = keys.map((key) => [key, `${named(key)}:${gap()}${said(values[key])}`] as const);
    const all = [group, ...keys.map((key) => `${group}.${key}`)];
    if (random.chance(0.4)) {
      oneLine.add(group);
      lines.push({ text: `${before}${named(group)}:${gap()}{${random.pick([' ', ''])}${items.map(([, text]) => text).join(random.pick([', ', ',  ']))}${random.pick([' ', ''])}}${end}${remark()}`, keys: all });
    } else if (json || random.chance(0.3)) {
      oneLine.add(group);
      lines.push({ text: `${before}${named(group)}:${gap()}{`, keys: all });
      items.forEach(([, text], i) => lines.push({ text: `${before}${step}${text}${i + 1 < items.length ? ',' : ''}${remark()}`, keys: all }));
      lines.push({ text: `${json ? before : step}}${end}`, keys: all });
    } else {
      lines.push({ text: `${named(group)}:${random.pick(['', ' '])}${remark()}`, keys: [group] });
      for (const [key, text] of items) {
        while (random.chance(0.2)) lines.push({ text: random.chance(0.5) ? '' : `${step}# Of ${key}.`, keys: [group] });
        lines.push({ text: `${step}${text}${remark()}`, keys: [group, `${group}.${key}`] });
      }
    }
  });
  if (json) lines.push({ text: '}', keys: [] });
  return { lines, data, eol: random.pick(['\n', '\r\n']), oneLine, json };
} // prettier-ignore

/** Which lines may change: those of the keys, of groups in braces, and of a group whose keys come and go as a whole. */
function mayChange({ lines, data, oneLine, json }: ReturnType<typeof madeUp>, edits: readonly Edit[]): Set<Line> {
  const touched = new Set<string>();
  for (const { key, value } of edits) {
    touched.add(key);
    const [group, name] = key.split('.') as [string, string?];
    const there = data[group];
    const has = typeof there === 'object' && name !== undefined && name in there;
    if (typeof there === 'string' || there === undefined) touched.add(group);
    else if (oneLine.has(group) || Object.keys(there).length === 0) touched.add(group);
    else if (value === undefined && has && Object.keys(there).every((one) => edits.some((edit) => edit.key === `${group}.${one}` && edit.value === undefined))) touched.add(group); // prettier-ignore
  }
  const last = lines.filter(({ text }) => text !== '}').at(-1);
  return new Set(lines.filter((line) => (json && line === last) || line.keys.some((key) => touched.has(key))));
}

describe('A tuning that is edited', () => {
  it('keeps every line that the keys are not in, however it is written', () => {
    const random = randomizer(4711);
    let edited = 0;
    for (let n = 0; n < share({ quick: 60, test: 600, deep: 6000 }); n++) {
      const file = madeUp(random);
      const text = file.lines.map((line) => line.text + file.eol).join('');
      expect(parse(text) ?? {}, text).to.deep.equal(file.data);
      const expected = structuredClone(file.data);
      const edits: Edit[] = [];
      for (const group of Object.keys(KEYS).filter(() => random.chance(0.3))) {
        if (random.chance(0.15)) {
          const value = random.pick(['off', {}] as const);
          edits.push({ key: group, value });
          expected[group] = typeof value === 'string' ? value : {};
          continue;
        }
        for (const key of Object.keys(KEYS[group]!).filter(() => random.chance(0.5))) {
          const there = expected[group];
          const gone = random.chance(0.25);
          const value = gone ? undefined : (random.pick([...KEYS[group]![key]!]) as Edit['value']);
          edits.push({ key: `${group}.${key}`, value });
          if (!gone) expected[group] = { ...(typeof there === 'object' ? there : {}), [key]: value };
          else if (typeof there === 'object') delete there[key];
        }
      }
      const made = editTuning(text, edits);
      expect(parse(made) ?? {}, `${text}\n${JSON.stringify(edits)}\n${made}`).to.deep.equal(expected);
      if (file.json) JSON.parse(made);
      if (text.includes('\r\n')) expect(made, text).not.to.match(/[^\r]\n/);
      const changing = mayChange(file, edits);
      const after = made.split(file.eol);
      let at = 0;
      for (const line of file.lines) {
        if (changing.has(line)) continue;
        const found = after.indexOf(line.text, at);
        expect(found, `lost: ${line.text}\n${text}\n${JSON.stringify(edits)}\n${made}`).to.be.at.least(at);
        at = found + 1;
      }
      edited += edits.length;
    }
    expect(edited).to.be.above(share({ quick: 80, test: 800, deep: 8000 }));
  }).timeout(120000);

  it('changes one number and nothing beside it', () => {
    const text = '# Mine.\r\n\r\n\r\nrun:   {speed: 7.50,   feel: steady}   # tiles/s\r\njump:\r\n    height:    3.0     # tall\r\n    riseTime: .4\r\n';
    const edits: Edit[] = [{ key: 'jump.height', value: 3.5 }, { key: 'jump.riseTime', value: 0.4 }];
    expect(editTuning(text, edits)).to.equal(text.replace('3.0', '3.5'));
    expect(editTuning(text, [{ key: 'run.speed', value: 7.5 }])).to.equal(text);
  }); // prettier-ignore

  it('writes a number as the one before it was written', () => {
    const written = (was: string, value: number): string => editTuning(`run: { speed: ${was} }\n`, [{ key: 'run.speed', value }]).slice(14, -3); // prettier-ignore
    for (const [was, value, text] of [
      ['7', 8, '8'],
      ['7', 7.25, '7.25'],
      ['7.25', 8, '8'],
      ['7.50', 8, '8.00'],
      ['3.0', 4.25, '4.25'],
      ['3.0', 4, '4.0'],
      ['.5', 0.25, '.25'],
      ['.5', 2, '2'],
      ['+7.5', 8, '+8'],
      ['1e1', 8, '8e0'],
      ['12E-1', 0.25, '2.5E-1'],
      ['"7"', 8, '8'],
      ['0x1F', 8, '8'],
      ['7.', 8.5, '8.5'],
    ] as const)
      // prettier-ignore
      expect(written(was, value), was).to.equal(text);
    const lower = editTuning('gravity: { falling: 1, own: -.50 }\n', [{ key: 'gravity.own', value: -0.2 }]);
    expect(lower).to.equal('gravity: { falling: 1, own: -.20 }\n');
  });

  it('takes a group that is shared as its own, with what it had', () => {
    const text = 'gravity: &all { falling: 2 } # both\nrun: &way { speed: 7, walk: 0.5 }\nown: { cape: { pull: 2 }, hat: { pull: 3 } }\n';
    expect(readTuning(editTuning(text, [{ key: 'run.speed', value: 8 }, { key: 'own.cape.pull', value: 4 }])).tuning).to.deep.include({ run: { speed: 8, walk: 0.5 }, own: { cape: { pull: 4 }, hat: { pull: 3 } } });
    const shared = 'own:\n  cape: &one { pull: 2, size: 1 }\n  hat: *one\n';
    expect(readTuning(editTuning(shared, [{ key: 'own.hat.pull', value: 5 }])).tuning.own).to.deep.equal({ cape: { pull: 2, size: 1 }, hat: { pull: 5, size: 1 } });
  }); // prettier-ignore

  it('begins a file, and goes on with one that says nothing yet', () => {
    const edits: Edit[] = [{ key: 'run.speed', value: 8 }, { key: 'gravity.fallRamp.to', value: 2 }];
    const made = 'run:\n  speed: 8\ngravity:\n  fallRamp:\n    to: 2\n';
    for (const [text, all] of [['', made], ['\n', made], ['# Mine.\n', `# Mine.\n${made}`], ['# Mine.', `# Mine.\n${made}`]] as const)
      expect(editTuning(text, edits), JSON.stringify(text)).to.equal(all);
    expect(editTuning('run: # quick\n', edits)).to.equal('run: { speed: 8 } # quick\ngravity:\n  fallRamp:\n    to: 2\n');
  }); // prettier-ignore

  it('is refused where it is not YAML, with the place', () => {
    expect(() => editTuning('run: { speed: 3', [{ key: 'run.speed', value: 4 }], 'hero.tuning.yaml')).to.throw(FileError, /hero\.tuning\.yaml:1:16/); // prettier-ignore
    expect(() => editTuning('a: 1\na: 2\n', [])).to.throw(FileError, /:2:1: map keys must be unique/);
  });
});
