import { compileTuning, type Tuning } from 'apperin';
import { readInput, readLevel, readTuning } from 'apperin/files';
import { compare, compareRates, compareRuns, family, play, sheet, vary } from 'apperin/lab';
import { expect } from 'chai';
import { readFileSync } from 'node:fs';
import { randomTuning } from '../support/make.js';
import { randomizer } from '../support/random.js';

const text = (name: string): string => readFileSync(new URL(`../../data/tide-mill/${name}`, import.meta.url), 'utf8');
const brindle = readTuning(text('brindle.tuning.yaml')).tuning;
const level = readLevel(text('yard.level.yaml')).compiled;
const input = readInput(text('leap.input.csv')).rows;

describe('Comparing tunings', () => {
  it('with itself: every difference is nothing, and no key differs', () => {
    const random = randomizer(701);
    for (let i = 0; i < 20; i++) {
      const tuning = i === 0 ? brindle : randomTuning(random);
      const { keys, measures } = compare([{ name: 'a', tuning }, { name: 'b', tuning }]); // prettier-ignore
      expect(keys).to.deep.equal([]);
      for (const { id, values, differences } of measures) {
        expect(values[1], id).to.deep.equal(values[0]);
        expect(
          differences.every((one) => one === null || one === 0 || Number.isNaN(one)),
          id,
        ).to.equal(true);
      }
    }
  });

  it('swapped: the signs of all differences are swapped', () => {
    const random = randomizer(702);
    for (let i = 0; i < 20; i++) {
      const [a, b] = [randomTuning(random), randomTuning(random)];
      const there = compare([{ name: 'a', tuning: a }, { name: 'b', tuning: b }]).measures; // prettier-ignore
      const back = compare([{ name: 'b', tuning: b }, { name: 'a', tuning: a }]).measures; // prettier-ignore
      for (const { id, differences } of there) {
        const other = back.find((one) => one.id === id)!.differences[1]!;
        expect(other, id).to.deep.equal(differences[1] === null || differences[1] === undefined ? null : -differences[1] + 0);
      }
    }
  }); // prettier-ignore

  it('has the very numbers of the sheet', () => {
    const other: Tuning = { ...brindle, jump: { height: 2, riseTime: 0.3 } };
    const { measures } = compare([{ name: 'a', tuning: brindle }, { name: 'b', tuning: other }]); // prettier-ignore
    for (const [k, tuning] of [brindle, other].entries())
      for (const { id, value } of sheet(tuning))
        expect(measures.find((one) => one.id === id)!.values[k], id).to.equal(value);
  });

  it('on the same input says what each flight came to, counted from the press', () => {
    const faster: Tuning = { ...brindle, gravity: { ...brindle.gravity, falling: 3 } };
    const { runs, measures, press, keys } = compareRuns([{ name: 'a', tuning: brindle }, { name: 'b', tuning: faster }], { level, input }); // prettier-ignore
    expect(press).to.equal(input.find(({ action }) => action === 'jump')!.time);
    expect(keys).to.deep.equal([{ key: 'gravity.falling', values: [brindle.gravity!.falling, 3] }]);
    expect(runs[0]!.rows).to.deep.equal(play({ level, tuning: brindle, input }).rows);
    const time = measures.find(({ id }) => id === 'flight1Time')!;
    const { motion } = { motion: compileTuning(brindle) };
    expect(time.values[0]).to.be.closeTo(sheet(motion).find(({ id }) => id === 'airTime')!.value, 1e-9);
    expect(time.differences[1]).to.be.below(-0.05);
  });

  it('refuses none, and more than six', () => {
    expect(() => compare([])).to.throw(RangeError, /one to 6 tunings are compared, not 0/);
    expect(() => compare(Array.from({ length: 7 }, (_, i) => ({ name: `${i}`, tuning: {} })))).to.throw(RangeError, /not 7/); // prettier-ignore
  });
});

describe('Comparing tick rates', () => {
  it('finds the same events, and what was decided most closely', () => {
    const { reference, rates, closest } = compareRates({ tuning: brindle }, [15, 30, 144], { level, input });
    expect(reference).to.equal(144);
    for (const { same, exact, worstTime, worstPlace, end } of rates) {
      expect(same && exact).to.equal(true);
      expect([worstTime, worstPlace, end]).to.deep.equal([0, 0, 0]);
    }
    // The second press of the input comes a little before the landing: within the buffer, and not by much more.
    expect(closest!.margin).to.be.within(0.01, 0.1);
    expect(closest!.what).to.match(/^a press/);
    expect(() => compareRates({ tuning: brindle }, [60], { level, input })).to.throw(RangeError, /at least two rates/);
  });
});

describe('Varying a key', () => {
  it('gives every measure at every value, as the sheet of that tuning has it', () => {
    const values = [2, 2.5, 3, 3.5];
    const varied = vary(brindle, [{ key: 'jump.height', values }]);
    varied.points.forEach(({ measures }, i) => {
      expect(measures).to.deep.equal(
        sheet({ ...brindle, jump: { ...(brindle.jump as object), height: values[i]! } } as Tuning),
      );
    });
    const apex = varied.changing.find(({ id }) => id === 'apexHeight')!;
    apex.values.forEach((value, i) => expect(value).to.be.closeTo(values[i]!, 1e-12));
    expect(varied.changing.map(({ id }) => id)).to.not.include('runUp');
    expect(family(varied).map(({ name }) => name)).to.deep.equal(['height 2', 'height 2.5', 'height 3', 'height 3.5']);
  });

  it('of two keys varies each with each, and says where there is no such tuning', () => {
    const varied = vary(brindle, [
      { key: 'jump.height', values: [0.001, 3] },
      { key: 'gravity.falling', values: [1, 2, 3] },
    ]);
    expect(varied.points.map(({ values }) => values)).to.deep.equal([[0.001, 1], [3, 1], [0.001, 2], [3, 2], [0.001, 3], [3, 3]]); // prettier-ignore
    expect(varied.points[0]!.motion).to.equal(undefined);
    expect(varied.points[0]!.why).to.match(/apexSpeed|lowestHop|band/);
    expect(() => vary(brindle, [])).to.throw(RangeError, /one or two keys are varied, not 0/);
    expect(() => vary(brindle, [{ key: 'run.speed', values: [] }])).to.throw(RangeError, /0 points/);
  });
});
