import { bot, compileTuning, level, openStage, script, type DrawnLevel, type InputRow, type Tuning } from 'apperin';
import { readLevel, readTuning } from 'apperin/files';
import { Explorer, envelope, sceneOf, survey, type Surveyed, type SurveyedPlace } from 'apperin/lab';
import { expect } from 'chai';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { DATA } from '../support/cli.js';
import { KNOWN, PLAIN } from '../support/known-levels.js';
import { randomizer } from '../support/random.js';

/** The place at a point; not a ledge. */
function placeAt({ survey: { places } }: Surveyed, [x, y]: readonly number[]): SurveyedPlace | undefined {
  return places.find(({ kind, mover, x1, x2, y1 }) => kind !== 'ledge' && mover === null && x1 <= x! && x2 >= x! && Math.abs(y1 - y!) < 1e-3); // prettier-ignore
}

/** Where rows lead: the feet and what holds them up after so long, and whether a point was covered on the way. */
function played(level: DrawnLevel, tuning: Tuning, rows: readonly InputRow[], seconds: number, rate: number) {
  const stage = openStage(level);
  const hero = stage.add(tuning, { driver: script(rows) });
  const ticks = Math.round(seconds * rate);
  for (let i = 0; i < ticks; i++) stage.tick(1 / rate);
  return { x: hero.x, y: hero.y, support: hero.support, time: stage.time };
}

const data = (name: string): string => readFileSync(join(DATA, name), 'utf8');
const brindle = readTuning(data('brindle.tuning.yaml'), { file: 'brindle.tuning.yaml' }).tuning;
const yard = readLevel(data('yard.level.yaml'), { file: 'yard.level.yaml' });

describe('A survey', () => {
  it('is done step by step where something else has to be heard meanwhile: the same answers, and no step is long', async () => {
    const options = { level: readLevel(data('saltreave.level.svg'), { file: 'saltreave.level.svg' }).compiled, tuning: brindle, spend: 60_000, to: [], zones: false };
    const explorer = new Explorer(sceneOf(options));
    let [longest, ofTask, steps] = [0, 0, 0];
    const stepwise = await survey(options, (tasks) =>
      tasks.map((task) => {
        const answering = explorer.answering(task);
        const before = explorer.game.spent;
        for (;;) {
          const from = explorer.game.spent;
          const { done, value } = answering.next();
          longest = Math.max(longest, explorer.game.spent - from);
          steps++;
          if (!done) continue;
          ofTask = Math.max(ofTask, explorer.game.spent - before);
          return value;
        }
      }),
    );
    expect(stepwise.survey).to.deep.equal((await survey(options)).survey);
    expect(steps).to.be.above(100);
    // A task spends what hundreds of steps do.
    expect(longest).to.be.below(ofTask / 20);
  }); // prettier-ignore

  for (const { name, tuning, level: make, goal } of KNOWN)
    it(`tells ${name} that is reached just so from one that is not`, async () => {
      const easier = await survey({ level: make(-0.01), tuning, spend: 400_000 });
      const place = placeAt(easier, goal(-0.01))!;
      expect(place.answer, 'a hundredth easier').to.equal('yes');
      const harder = await survey({ level: make(0.01), tuning, spend: 60_000 });
      expect(placeAt(harder, goal(0.01))!.answer, 'a hundredth harder').to.equal('no');
      // Its proof leads there at any rate, to the same bits, and none of it can be left out.
      const { rows, time } = easier.proof(place.id)!;
      const at = [15, 60, 1000].map((rate) => played(make(-0.01), tuning, rows, Math.ceil(time * 5) / 5 + 0.2, rate));
      expect(at[1]).to.deep.equal(at[0]);
      expect(at[2]).to.deep.equal(at[0]);
    }); // prettier-ignore

  it('begins with the links of another tuning where they still lead: the same answers for a fraction of the work', async () => {
    const first = await survey({ level: yard.level, tuning: brindle, to: [] });
    const kept = JSON.parse(JSON.stringify(first.kept())) as ReturnType<typeof first.kept>;
    const tuning = { ...brindle, jump: { height: 3.3, riseTime: 0.41 } };
    const spend = 3_000;
    const fresh = await survey({ level: yard.level, tuning, to: [], spend, care: 0 });
    const begun = await survey({ level: yard.level, tuning, to: [], spend, care: 0, kept });
    expect(fresh.survey.total.yes).to.be.below(begun.survey.total.yes);
    expect(begun.survey.total).to.deep.equal({ yes: begun.survey.places.length, no: 0, 'not found': 0 });
    for (const { id, points } of begun.survey.places) {
      const { rows, time } = begun.proof(id)!;
      const { x, y } = played(yard.level as DrawnLevel, tuning, rows, Math.ceil(time * 5) / 5 + 0.2, 60);
      if (begun.survey.places[id]!.kind === 'ground') expect(points.some(([, py]) => Math.abs(py - y) < 1.5), `${id}: ${x}, ${y}`).to.equal(true);
    }
    // What no longer leads there does not count, and links of another level are none.
    const low = { ...brindle, jump: { height: 1, riseTime: 0.3, lowestHop: 0.5 } };
    const known = await survey({ level: yard.level, tuning: low, to: [], kept });
    const anew = await survey({ level: yard.level, tuning: low, to: [] });
    expect(known.survey.places.map(({ answer }) => answer)).to.deep.equal(anew.survey.places.map(({ answer }) => answer));
    const other = await survey({ level: level({ rows: ['.......', '.@.....', '#######'] }), tuning: low, kept });
    expect(other.survey.total).to.deep.equal({ yes: 1, no: 0, 'not found': 0 });
  }); // prettier-ignore

  it('proves what it says with rows of which none can be left out, and says how much care they take', async () => {
    const found = await survey({ level: yard.level, tuning: brindle });
    const { targets, places, total, deadEnds } = found.survey;
    expect(total).to.deep.equal({ yes: places.length, no: 0, 'not found': 0 });
    expect(deadEnds).to.deep.equal([]);
    expect(targets.map(({ name, answer }) => [name, answer])).to.deep.equal([['quay', 'yes'], ['loft', 'yes']]);
    const covers = (rows: readonly InputRow[], [x, y]: readonly [number, number], until: number): boolean => {
      const stage = openStage(yard.compiled);
      const hero = stage.add(brindle, { driver: script(rows) });
      while (stage.time < until) {
        stage.tick(1 / 64);
        if (Math.abs(hero.x - x) <= hero.motion.half && y <= hero.y + 1e-9 && y >= hero.y - hero.height) return true;
      }
      return false;
    };
    for (const { proof, x, y, time, care } of targets) {
      expect(covers(proof!, [x, y], time! + 1e-9)).to.equal(true);
      proof!.forEach((_, i) => expect(covers(proof!.filter((__, k) => k !== i), [x, y], time! + 8), `without row ${i}`).to.equal(false));
      for (const by of [-care!, care!])
        proof!.forEach((_, i) => {
          const moved = proof!.map((row, k) => (k === i ? { ...row, time: Math.max(0, row.time + by) } : row)).sort((one, other) => one.time - other.time);
          expect(covers(moved, [x, y], time! + 8), `row ${i} by ${by}`).to.equal(true);
        });
    }
  }); // prettier-ignore

  it('says how tight the presses of its links are: what moves past their ends leads elsewhere', async () => {
    const found = await survey({ level: yard.level, tuning: brindle });
    const { links, places } = found.survey;
    const looked = found.tightestLinks();
    expect(looked.length).to.equal(new Set(looked).size);
    expect(looked.length).to.be.within(10, 20);
    expect(found.tightestLinks(3)).to.deep.equal(looked.slice(0, 3));
    let ends = 0;
    for (const i of looked) {
      const { from, to, began } = { ...links[i]!, began: found.linkBegan(i) };
      const rows = found.linkProof(i);
      /** Where it lands after a press, of those that it has not stood on before. */
      const leadsTo = (press: number, by: number): number | undefined => {
        const off = rows.findIndex((row, k) => k > press && row.action === rows[press]!.action && row.value === 0);
        const moved = rows.map((row, k) => (k === press || k === off ? { ...row, time: row.time + by } : row));
        const stage = openStage(yard.compiled);
        const hero = stage.add(brindle, { driver: script(moved) });
        const since = rows[press]!.time + Math.min(by, 0);
        const stood = new Set([0]);
        let next: number | undefined;
        hero.on('touchdown', ({ time, x, y }) => {
          const id = places.findIndex(({ points }) => points[0]![1] === y && points[0]![0] <= x && points.at(-1)![0] >= x);
          if (time <= since) stood.add(id);
          else if (id === to || !stood.has(id)) next ??= id;
        });
        while (next === undefined && stage.time < since + 3) stage.tick(1 / 60);
        return next;
      };
      expect(began).to.be.at.least(0);
      for (const { action, at, press } of found.presses(i)) {
        const on = rows.findIndex((row) => row.action === action && row.value > 0 && Math.abs(row.time - began - at) < 1e-9);
        expect(on, `${from} to ${to}: ${at}`).to.be.at.least(0);
        for (const [end, out] of [[press.earliest, -1], [press.latest, 1]] as const) {
          // Sooner than it begins it would have had to be there sooner.
          if (end === null || end < 0) continue;
          ends++;
          expect(leadsTo(on, end - at - out * 1e-4), `${from} to ${to} within ${end}`).to.equal(to);
          expect(leadsTo(on, end - at + out * 1e-4), `${from} to ${to} beyond ${end}`).to.not.equal(to);
        }
      }
    }
    expect(ends).to.be.at.least(10);
    expect(() => found.presses(999)).to.throw(RangeError, /link is 999; there are/);
    const [quay] = found.targetPresses(0).slice(-1);
    expect(quay!.adds.coyote).to.be.closeTo(0.08, 2e-4);
  }); // prettier-ignore

  it('gives the same answer again, and for a level written otherwise', async () => {
    const first = await survey({ level: yard.level, tuning: brindle });
    const again = await survey({ level: yard.compiled, tuning: compileTuning(brindle) });
    expect(again.survey).to.deep.equal(first.survey);
    const drawn = await survey({ level: readLevel(data('hoist.level.yaml')).compiled, tuning: brindle, to: ['start', [20, 9]] });
    expect(drawn.survey.targets.map(({ answer }) => answer)).to.deep.equal(['yes', 'yes']);
  }); // prettier-ignore

  it('never rules out what is reached in a flight that was really flown', async () => {
    const random = randomizer(20261130).next;
    let planted = 0;
    for (let round = 0; round < 12; round++) {
      const tuning: Tuning = {
        ...PLAIN,
        grace: { coyote: random() < 0.5 ? 0.1 : 0, lip: random() < 0.5 ? 0.2 : 0, corner: random() < 0.5 ? 0.22 : 0 },
        ...(random() < 0.5 ? { airJumps: { heights: [1.5] } } : {}),
        ...(random() < 0.5 ? { wall: {} } : {}),
        ...(random() < 0.4 ? { glide: {} } : {}),
        ...(random() < 0.4 ? { ledge: {} } : {}),
        ...(random() < 0.3 ? { drop: {} } : {}),
      };
      const boxes = Array.from({ length: 6 }, (): [number, number, number, number] => [random() * 24 - 8, random() * 8, 1 + random() * 3, 0.5 + random()]);
      const make = (more: readonly object[]): DrawnLevel =>
        level({ yPoints: 'up', shapes: [{ solid: [-12, -2, 32, 2] }, { solid: [-13, -2, 1, 20] }, { solid: [20, -2, 1, 20] }, ...boxes.map((box, i) => (i % 3 === 0 ? { 'one-way': box } : { solid: box })), ...more], spawns: { start: [-10, 0] } } as never) as DrawnLevel;
      const seed = Math.floor(random() * 1e9);
      const fly = (of: DrawnLevel, seconds: number) => {
        const chance = randomizer(seed).next;
        const stage = openStage(of);
        let keys = {};
        let left = 0;
        const hero = stage.add(tuning, {
          driver: bot(() => {
            if (--left > 0) return keys;
            left = 1 + Math.floor(chance() * 16);
            const way = chance();
            return (keys = { right: way < 0.6, left: way > 0.7, jump: chance() < 0.6, glide: chance() < 0.3, down: chance() < 0.1 });
          }),
        });
        const way: { x: number; y: number; vy: number; support: string; time: number }[] = [];
        while (stage.time < seconds) {
          stage.tick(1 / 60);
          way.push({ x: hero.x, y: hero.y, vy: hero.vy, support: hero.support, time: stage.time });
        }
        return way;
      };
      const falls = fly(make([]), 6).filter(({ vy, support }) => support === '' && vy < -1);
      for (let k = 0; k < 3 && falls.length > 0; k++) {
        const { x, y, time } = falls[Math.floor(random() * falls.length)]!;
        const under = make([{ solid: [x - 0.4, y - 0.3, 0.8, 0.3] }]);
        const on = fly(under, time + 0.2).find((at) => at.support === 'ground' && Math.abs(at.y - y) < 1e-6 && Math.abs(at.x - x) < 0.8);
        if (!on) continue;
        planted++;
        const { places } = (await survey({ level: under, tuning, spend: 1 })).survey;
        const place = places.find(({ kind, x1, x2, y1 }) => kind !== 'ledge' && x1 <= on.x && x2 >= on.x && Math.abs(y1 - on.y) < 1e-6)!;
        expect(place.answer, JSON.stringify({ round, k, tuning, on, short: place.short })).to.not.equal('no');
      }
    }
    expect(planted).to.be.greaterThan(15);
  }); // prettier-ignore

  it('knows that somebody who begins in the air may steer on the way down', async () => {
    const made = level({ yPoints: 'up', shapes: [{ solid: [-6, -2, 8, 2] }, { solid: [2.2, 3, 4, 1] }], spawns: { start: [0, 9] } }); // prettier-ignore
    const found = await survey({ level: made, tuning: { ...PLAIN, jump: 'off' } });
    expect(placeAt(found, [0, 0])!.answer).to.equal('yes');
    expect(placeAt(found, [4, 4])!.answer).to.equal('yes');
    const far = level({ yPoints: 'up', shapes: [{ solid: [-6, -2, 8, 2] }, { solid: [14.5, 3, 4, 1] }], spawns: { start: [0, 9] } }); // prettier-ignore
    expect(placeAt(await survey({ level: far, tuning: { ...PLAIN, jump: 'off' } }), [16, 4])!.answer).to.equal('no');
  });

  it('tells a ramp of one-way ground from the floor that it begins on', async () => {
    const made = level({ yPoints: 'up', shapes: [{ solid: [-6, -2, 30, 2] }, { 'one-way': [[0, 0], [4, 3], [6, 3]] }, { solid: [6, 5.5, 6, 1] }], spawns: { start: [-4, 0] } } as never) as DrawnLevel; // prettier-ignore
    const found = await survey({ level: made, tuning: PLAIN });
    const [floor, ramp] = [placeAt(found, [-3, 0])!, found.survey.places.find(({ y2 }) => y2 === 3)!];
    expect(floor.x1).to.be.closeTo(-6.35, 1e-6);
    expect(floor.x2).to.be.closeTo(24.35, 1e-6);
    expect(floor.points.length).to.equal(2);
    expect([ramp.answer, ramp.y1, ramp.points.length > 2]).to.deep.equal(['yes', 0, true]);
    // From the floor it is too high, from the ramp it is not.
    expect(placeAt(found, [9, 6.5])!.answer).to.equal('no');
    expect(placeAt(await survey({ level: made, tuning: { ...PLAIN, jump: { height: 3.6, riseTime: 0.4 } } }), [9, 6.5])!.answer).to.equal('yes'); // prettier-ignore
  });

  it('does not rule out what is jumped to from where no ground is: between two steep faces, with many jumps in the air, beyond the extent that is given', async () => {
    const answer = async (words: object, tuning: Tuning, goal: readonly [number, number]) => {
      const made = level({ yPoints: 'up', spawns: { start: [-4, 0] }, ...words } as never) as DrawnLevel;
      return placeAt(await survey({ level: made, tuning, spend: 100_000 }), goal)!.answer;
    };
    const ground = { solid: [-10, -2, 40, 2] };
    const notch = { solid: [[0.2, 3], [1.2, 0.6], [2.2, 3], [2.2, 0], [0.2, 0]] };
    expect(await answer({ shapes: [ground, notch, { solid: [4, 4, 4, 0.5] }] }, PLAIN, [6, 4.5])).to.not.equal('no');
    expect(await answer({ shapes: [ground, { solid: [4, 4, 4, 0.5] }] }, PLAIN, [6, 4.5])).to.equal('no');
    expect(await answer({ shapes: [ground, { solid: [4, 10, 4, 1] }] }, { ...PLAIN, airJumps: { heights: Array.from({ length: 8 }, () => 1) } }, [6, 11])).to.not.equal('no');
    expect(await answer({ extent: { x: -10, y: -2, width: 12, height: 4 }, shapes: [ground, { solid: [20, 2, 4, 1] }] }, PLAIN, [22, 3])).to.equal('yes');
  }); // prettier-ignore

  it('goes on from all along a long floor', async () => {
    const steps = [60, 150, 290].map((x) => ({ solid: [x, 2.4, 2, 0.5] }));
    const made = level({ yPoints: 'up', shapes: [{ solid: [0, -2, 300, 2] }, ...steps, { solid: [3, 9, 2, 1] }], spawns: { start: [1, 0], top: [151, 2.4] } } as never) as DrawnLevel; // prettier-ignore
    const found = await survey({ level: made, tuning: PLAIN });
    for (const at of [[61, 2.9], [151, 2.9], [291, 2.9]]) expect(placeAt(found, at)!.answer, `${at[0]}`).to.equal('yes'); // prettier-ignore
    expect(placeAt(found, [4, 10])!.answer).to.equal('no');
    expect(found.survey.deadEnds).to.deep.equal([]);
    // From its far end the way back is as long.
    const back = await survey({ level: made, tuning: PLAIN, at: [299, 0], to: ['start'] });
    expect(back.survey.targets.map(({ answer }) => answer)).to.deep.equal(['yes']);
  });

  it('knows that nobody lands where only a low body has room, and who comes there low', async () => {
    /** A slot above a step, one unit high: its floor so high above the ground before it. */
    const slot = (up: number) =>
      level({ yPoints: 'up', shapes: [{ solid: [-9, -2, 9, 2] }, { solid: [0, -2, 6, 2 + up] }, { solid: [0, up + 1, 6, 3] }], spawns: { start: [-8, 0], slot: [3, up] } } as never) as DrawnLevel; // prettier-ignore
    const tuning: Tuning = { ...PLAIN, crouch: {} };
    const answer = async (up: number) => (await survey({ level: slot(up), tuning })).survey.targets[0]!.answer;
    expect([await answer(0), await answer(1)]).to.deep.equal(['yes', 'no']);
  });

  it('counts what a corner helps along once: heads are not moved aside over and over', async () => {
    const boxes = [2, 5, 8].map((x) => ({ solid: [x, 4, 1.5, 9] }));
    const made = (gap: number) =>
      level({ yPoints: 'up', shapes: [{ solid: [-8, -2, 8, 2] }, { solid: [gap, -2, 6, 2] }, ...boxes], spawns: { start: [-6, 0] } } as never) as DrawnLevel; // prettier-ignore
    const tuning: Tuning = { airJumps: { heights: [2.25] }, grace: { corner: 0.22, lip: 0 } };
    const { farthest } = envelope(tuning);
    const over = async (gap: number) =>
      placeAt(await survey({ level: made(gap), tuning, spend: 20_000 }), [gap + 1, 0])!.answer;
    // So far it flies with nothing above, and so much three corners may help at the most, and those below both floors.
    const reach = farthest + compileTuning(tuning).half;
    expect(await over(reach + 5 * 0.22 + 0.1)).to.equal('no');
    expect(await over(reach + 0.1)).to.not.equal('no');
  });

  it('rules nothing out where nobody ever stands', async () => {
    const made = level({ yPoints: 'up', shapes: [{ solid: [6, -2, 8, 2] }], spawns: { start: [0, 0] } });
    const { survey: found } = await survey({ level: made, tuning: PLAIN, spend: 20_000 });
    expect(found.total.no).to.equal(0);
    expect(found.deadEnds).to.deep.equal([]);
  });

  it('goes round what it is to avoid, and says where nobody comes back from', async () => {
    const pit = level({ yPoints: 'up', shapes: [{ solid: [-6, -2, 12, 2] }, { solid: [6, -8, 6, 3] }, { solid: [12, -8, 6, 12] }], zones: [{ name: 'wheel', tags: ['hazard'], box: [7, -5, 4, 1] }], spawns: { start: [-4, 0], deep: [9, -5] } }); // prettier-ignore
    const free = await survey({ level: pit, tuning: PLAIN });
    expect(free.survey.targets.map(({ name, answer }) => `${name} ${answer}`)).to.deep.equal(['deep yes', 'wheel yes']);
    const deep = placeAt(free, [9, -5])!;
    expect(free.survey.deadEnds).to.deep.equal([{ place: deep.id, home: 'start', answer: 'no' }]);
    const careful = await survey({ level: pit, tuning: PLAIN, avoid: ['hazard'] });
    expect(careful.survey.targets.map(({ name }) => name)).to.deep.equal(['deep']);
    // It may be stood on beside the wheel.
    expect(placeAt(careful, [9, -5])!.answer).to.not.equal('no');
  });

  it('refuses what is none, and ends early when it is told to', async () => {
    const refused = async (options: object): Promise<string> =>
      survey({ level: yard.level, tuning: brindle, ...options }).then(
        () => 'taken',
        (error: Error) => error.message,
      );
    expect(await refused({ to: ['quai'] })).to.equal('there is no spawn quai; the level has start, quay, loft (did you mean quay?)'); // prettier-ignore
    expect(await refused({ home: ['hom'] })).to.match(/^there is no spawn hom/);
    expect(await refused({ avoid: ['hazard'] })).to.match(/^no zone of the level has the tag hazard/);
    expect(await refused({ spend: 0 })).to.match(/^spend is 0/);
    const early = await survey({ level: yard.level, tuning: brindle, progress: () => false });
    expect(early.survey.stopped).to.equal(true);
    expect(early.survey.total.yes).to.be.greaterThan(0);
  });
});
