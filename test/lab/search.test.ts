import { level, type InputRow } from 'apperin';
import { readFound, readFoundRow, readPlanned, writeFound } from 'apperin/files';
import { LOST, SearchJobs, headOf, mergeFound, rangesOf, ranked, reaches, rowValues, search, searchPlan, sheet, survey, type PlannedPromise, type SearchInputs, type SearchPlan, type SearchRow } from 'apperin/lab'; // prettier-ignore
import { expect } from 'chai';

/** A shelf three tiles up, a gap of five, and a vault four tiles up. */
const ROOMS: Record<string, readonly string[]> = {
  shelf: [
    '............',
    '............',
    '............',
    '.......#####',
    '.......#####',
    '.@.....#####',
    '############',
  ],
  gap: ['..............', '..............', '..............', '.@............', '####.....#####'],
};
const EXITS: Record<string, [number, number]> = { shelf: [10.5, 3], gap: [12.5, 4] };
const room = (name: string) => level({ rows: ROOMS[name]!, spawns: { exit: EXITS[name]! }, bounds: { bottom: 'out' } });
const inputs: SearchInputs = {
  level: (name) => {
    if (!(name in ROOMS)) throw new RangeError(`${name} is no room`);
    return room(name);
  },
  input: (): InputRow[] => [{ time: 0.1, action: 'right', value: 1 }, { time: 0.4, action: 'jump', value: 1 }],
}; // prettier-ignore

const PROMISES: readonly PlannedPromise[] = [
  { name: 'up the shelf', level: 'shelf', to: 'exit', answer: 'yes', spend: 20_000 },
  { name: 'nobody is lost', level: 'shelf', deadEnds: 0, spend: 20_000 },
  { name: 'over the gap', level: 'gap', to: 'exit', answer: 'yes', spend: 20_000 },
  { name: 'not high', measure: 'apexHeight', most: 3.5 },
  { name: 'it lands', measure: 'flight1Rise', least: 0.1, scene: { level: 'gap', input: 'any' } },
];
const plan = (more: Partial<Parameters<typeof searchPlan>[0]> = {}): SearchPlan =>
  searchPlan({ build: 'this', tuning: {}, keys: [{ key: 'jump.height', values: [2, 3.25, 4] }, { key: 'run.speed', values: [4, 8] }], promises: PROMISES, ...more }); // prettier-ignore
const HASH = 'a'.repeat(64);

describe('A search', () => {
  let rows: SearchRow[];
  before(async () => {
    rows = await search(plan(), inputs);
  });

  it('says of each combination which promises hold, as surveys and the sheet say it', async () => {
    const answers = rows.map(({ set, promises }) => [set['jump.height'], set['run.speed'], ...promises.map(({ answer }) => answer)]); // prettier-ignore
    expect(answers).to.deep.equal([
      [2, 4, 'fails', 'holds', 'fails', 'holds', 'holds'],
      [3.25, 4, 'holds', 'holds', 'fails', 'holds', 'holds'],
      [4, 4, 'holds', 'holds', 'fails', 'fails', 'holds'],
      [2, 8, 'fails', 'holds', 'holds', 'holds', 'holds'],
      [3.25, 8, 'holds', 'holds', 'holds', 'holds', 'holds'],
      [4, 8, 'holds', 'holds', 'holds', 'fails', 'holds'],
    ]);
    const tuning = { jump: { height: 3.25 }, run: { speed: 8 } };
    const measures = Object.fromEntries(sheet({ ...tuning } as never).map(({ id, value }) => [id, Number.isFinite(value) ? value : null])); // prettier-ignore
    expect(rows[4]!.measures).to.deep.equal(measures);
    for (const name of ['shelf', 'gap']) {
      const { targets } = (await survey({ level: room(name), tuning, spend: 20_000 })).survey;
      const { answers: known } = await reaches({ level: room(name), tuning, spend: 20_000 }, ['exit']);
      expect(known).to.deep.equal(targets.map(({ answer }) => answer));
    }
  });

  it('gives the same row whoever does its jobs, in whatever order', async () => {
    const jobs = new SearchJobs(plan(), inputs);
    const other = new SearchJobs(JSON.parse(JSON.stringify(plan())) as SearchPlan, inputs);
    // The two promises of the shelf are of one survey.
    expect(jobs.jobs).to.equal(3);
    const backwards = await Promise.all([2, 1, 0].map(async (job) => (job % 2 ? jobs : other).done(4, job)));
    expect(jobs.rowOf(4, backwards)).to.deep.equal(rows[4]);
    expect(backwards.map(({ events }) => events).reduce((sum, one) => sum + one)).to.equal(rows[4]!.spent.events);
  });

  it('ends a job by its count of events, and says so; one that cannot be done says why, and the rest goes on', async () => {
    const few = plan({ keys: [{ key: 'run.speed', values: [4.6] }], promises: [{ name: 'far', level: 'gap', to: 'exit', answer: 'yes', spend: 10 }, { name: 'nowhere', level: 'attic', to: 'exit', answer: 'yes' }, { name: 'no such', level: 'gap', to: 'cellar', answer: 'yes' }, { name: 'there', gap: 1, least: 0.01 }] }); // prettier-ignore
    const [row] = await search(few, inputs);
    expect(row!.promises.slice(1)).to.deep.equal([
      { name: 'nowhere', answer: 'error', why: 'attic is no room' },
      { name: 'no such', answer: 'error', why: 'there is no spawn or zone cellar to get to; there are exit' },
      { name: 'there', answer: 'holds' },
    ]);
    const far = plan({ keys: [{ key: 'run.speed', values: [7] }], promises: [{ name: 'far', level: 'gap', to: 'exit', answer: 'yes', spend: 1 }] }); // prettier-ignore
    expect((await search(far, inputs))[0]!.promises).to.deep.equal([{ name: 'far', answer: 'not found', ended: true }]);
    // There can be no such tuning.
    const [none] = await search(plan({ keys: [{ key: 'gravity.rising', values: [0] }] }), inputs);
    expect(none!.error).to.match(/^gravity\.rising is 0/);
    expect(new Set(none!.promises.map(({ answer }) => answer))).to.deep.equal(new Set(['error']));
  });

  it('samples combinations evenly, each once', () => {
    const values = Array.from({ length: 10 }, (_, i) => i + 1);
    const keys = [{ key: 'run.speed', values }, { key: 'jump.height', values }, { key: 'grace.coyote', values }]; // prettier-ignore
    const of = rowValues(plan({ keys, sample: 200 }));
    const taken = Array.from({ length: 200 }, (_, row) => of(row));
    expect(new Set(taken.map(String)).size).to.equal(200);
    for (let i = 0; i < 3; i++)
      for (const value of values) expect(taken.filter((one) => one[i] === value).length, `key ${i}: ${value}`).to.be.within(14, 27); // prettier-ignore
    // All of them where that many are asked for.
    const all = rowValues(plan({ keys, sample: 999 }));
    expect(new Set(Array.from({ length: 999 }, (_, row) => String(all(row)))).size).to.equal(999);
    expect(plan({ keys, sample: 1000 })).to.include({ rows: 1000, sample: false });
  });

  it('merges parts in any order into what one search writes, and names what is missing', () => {
    const head = headOf(plan(), HASH);
    const whole = writeFound({ head, rows });
    const parts = [1, 2, 3].map((part) => readFound(writeFound({ head: headOf(plan(), HASH, { part, of: 3 }), rows: rows.filter(({ row }) => row % 3 === part - 1) }))); // prettier-ignore
    expect(parts.map(({ head: { shard } }) => shard)).to.deep.equal(['1/3', '2/3', '3/3']);
    for (const order of [
      [0, 1, 2],
      [2, 0, 1],
      [1, 2, 0, 1],
    ])
      // prettier-ignore
      expect(writeFound(mergeFound(order.map((i) => parts[i]!)))).to.equal(whole);
    expect(mergeFound([parts[2]!, parts[0]!]).missing).to.deep.equal([1, 4]);
    expect(rangesOf([1, 2, 3, 7, 9, 10])).to.equal('1 to 3, 7, 9 to 10');
    // What was lost in one part and not in another is there; in all, it is missing.
    const lost = new SearchJobs(plan(), inputs).lost(2);
    expect(lost.error).to.equal(LOST);
    expect(
      mergeFound([
        { head, rows: [lost] },
        { head, rows },
      ]).missing,
    ).to.deep.equal([]);
    expect(mergeFound([{ head, rows: [...rows.slice(0, 2), lost, ...rows.slice(3)] }]).missing).to.deep.equal([2]);
    const other = { ...rows[3]!, spent: { events: 7 } };
    expect(() => mergeFound([{ head, rows }, { head, rows: [other] }])).to.throw(RangeError, 'two parts say different things of row 3'); // prettier-ignore
    expect(() => mergeFound([{ head, rows }, { head: { ...head, build: 'that' }, rows }])).to.throw(RangeError, 'parts are of different searches: build is this in one and that in another'); // prettier-ignore
    expect(() => mergeFound([])).to.throw(RangeError, 'there is no part');
  });

  it('orders rows by what they keep, then by what is wished', () => {
    const order = (...wishes: Parameters<typeof ranked>[1] & object) => ranked(rows, wishes).map(({ row }) => row.row);
    expect(order()).to.deep.equal([4, 1, 3, 5, 0, 2]);
    expect(order({ measure: 'apexHeight', towards: 'most' })).to.deep.equal([4, 5, 1, 3, 2, 0]);
    expect(order({ measure: 'apexHeight', towards: 'least' })).to.deep.equal([4, 3, 1, 5, 0, 2]);
    expect(order({ measure: 'apexHeight', towards: 3.3 })).to.deep.equal([4, 1, 5, 3, 2, 0]);
    expect(() => order({ measure: 'charm', towards: 'most' })).to.throw(RangeError, 'no row has a measure charm');
  });

  it('reads what it wrote, up to a line that was not written to its end; and says where something is wrong', () => {
    const text = writeFound({ head: headOf(plan(), HASH), rows });
    const half = readFound(text.slice(0, -20));
    expect(half.rows).to.deep.equal(rows.slice(0, 5));
    expect(text.slice(0, half.whole)).to.equal(text.split('\n').slice(0, 6).join('\n') + '\n');
    const lines = text.split('\n');
    for (const [wrong, message] of [
      ['', /found\.jsonl:1:1: this is no search: it has no head/],
      ['{"version":2}\n', /found\.jsonl:1:1: this is no head of a search: version/],
      [[lines[0], '{"row":0}', ''].join('\n'), /found\.jsonl:2:1: this is no row of a search: set/],
      [[lines[0], lines[1]!.replace('"row":0', '"row":600'), ''].join('\n'), /found\.jsonl:2:1: row is 600; the search has 6 rows, from 0/],
      [[lines[0], JSON.stringify({ ...rows[0], promises: [] }), ''].join('\n'), /found\.jsonl:2:1: row 0 has 0 promises; the head has 5/],
      [[lines[0], 'x', ''].join('\n'), /found\.jsonl:2:1: this is no row of a search: it is no JSON/],
      [[lines[0], lines[1]!.replace('"holds"', '"maybe"'), ''].join('\n'), /promises\.1\.answer/],
    ] as const) expect(() => readFound(wrong), wrong.slice(0, 40)).to.throw(message); // prettier-ignore
  });

  it('refuses plans and rows from elsewhere that are none', () => {
    const files = Object.fromEntries(['a', 'b'].map((letter) => [letter.repeat(64), { name: `${letter}.level.yaml` }]));
    const promises = [{ name: 'there', level: 'a'.repeat(64), to: 'exit', answer: 'yes' }];
    const good = { plan: { ...plan(), promises }, files };
    expect(readPlanned(JSON.stringify(good)).plan.rows).to.equal(6);
    const changed = (change: object): string => JSON.stringify({ ...good, plan: { ...good.plan, ...change } });
    let deep: unknown = 1;
    for (let i = 0; i < 60; i++) deep = [deep];
    for (const [text, message] of [
      ['{', 'it is no JSON'],
      ['['.repeat(100_000), 'nested deeper than 32'],
      [changed({ version: 2 }), 'plan.version'],
      [changed({ rows: 7 }), 'its rows are 7; its keys have 6 combinations'],
      [changed({ sample: true, rows: 90_000 }), 'its rows are 90000; its keys have 6 combinations'],
      [changed({ rows: 1e9 }), 'plan.rows'],
      [changed({ tuning: { jump: deep } }), 'nested deeper'],
      [changed({ promises: [{ ...promises[0], level: 'c'.repeat(64) }] }), 'there is no file cccccccccccc'],
      [changed({ promises: [{ ...promises[0], level: '../../etc/passwd' }] }), 'plan.promises.0'],
      [changed({ script: 'rm' }), 'plan: '],
      [changed({ tuning: { x: 'y'.repeat(1e5) } }), 'plan.tuning'],
      [`"${'x'.repeat(17e6)}"`, 'at most 16777216 are read'],
    ] as const) expect(() => readPlanned(text), text.slice(0, 60)).to.throw(RangeError, message); // prettier-ignore
    expect(readFoundRow(JSON.stringify(rows[0]))).to.deep.equal(rows[0]);
    expect(() => readFoundRow('{"row":1.5}')).to.throw(RangeError, 'row');
  });

  it('says what is wrong with a plan', () => {
    for (const [more, message] of [
      [{ keys: [] }, '0 keys are searched; it must be 1 to 16'],
      [{ promises: [] }, 'there are 0 promises'],
      [{ keys: [{ key: 'jump.hight', values: [1] }] }, 'there is no key jump.hight; did you mean jump.height?'],
      [{ keys: [{ key: 'run.speed', values: [1] }, { key: 'run.speed', values: [2] }] }, 'run.speed is searched twice'],
      [{ keys: [{ key: 'run.speed', values: [] }] }, 'run.speed has 0 values'],
      [{ sample: 0.5 }, 'sample is 0.5; it must be a whole number of at least 1'],
      [{ keys: ['run.speed', 'jump.height'].map((key) => ({ key, values: Array.from({ length: 400 }, (_, i) => i) })) }, '160000 rows are searched; it must be at most 100000'],
    ] as const) expect(() => plan(more as never)).to.throw(message); // prettier-ignore
    const jobs = new SearchJobs(plan(), inputs);
    return Promise.all([
      jobs.done(6, 0).then(() => expect.fail(), (error: Error) => expect(error.message).to.equal('row is 6; it must be 0 to 5')), // prettier-ignore
      jobs.done(0, 3).then(() => expect.fail(), (error: Error) => expect(error.message).to.equal('job is 3; it must be 0 to 2')), // prettier-ignore
    ]);
  });
});
