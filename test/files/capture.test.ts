import { expect } from 'chai';
import { FileError, readCapture } from 'apperin/files';

const rows = Array.from({ length: 20 }, (_, i) => [i / 60, i, 8 - i, i % 2] as const);
const table = (header: string, separator = ','): string =>
  `${[header, ...rows.map((row) => row.join(separator))].join('\n')}\n`;

describe('A capture', () => {
  it('is a table with the usual names', () => {
    const [capture, ...others] = readCapture(table('time,x,y,k'));
    expect(others).to.deep.equal([]);
    expect(capture!.time).to.deep.equal(rows.map(([time]) => time));
    expect(capture!.x).to.deep.equal(rows.map(([, x]) => x));
    expect(capture!.y).to.deep.equal(rows.map(([, , y]) => y));
    expect(capture).to.not.have.property('keys');
  });

  it('has columns of any name, in any order, parted by anything, with a mark at the start and Windows ends', () => {
    for (const separator of [';', '\t', '|']) {
      const text = `\uFEFF${table(['sec', 'px', 'py', 'space'].join(separator), separator).replaceAll('\n', '\r\n')}`;
      const [capture] = readCapture(text, { time: 'sec', x: 'px', y: 'py', keys: { jump: 'space' } });
      expect(capture!.x.at(-1)).to.equal(19);
      expect(capture!.keys).to.deep.equal({ jump: rows.map(([, , , key]) => key) });
    }
  });

  it('counts time in frames or milliseconds', () => {
    const text = `frame,x,y\n${rows.map((_, i) => `${i},0,${i}`).join('\n')}\n`;
    expect(readCapture(text, { time: 'frame', perSecond: 60 })[0]!.time[6]).to.equal(0.1);
    expect(readCapture(text, { time: 'frame', perSecond: 1000 })[0]!.time[6]).to.equal(0.006);
  });

  it('is JSON Lines', () => {
    const text = rows.map(([t, x, y], i) => JSON.stringify({ t, x, y, up: i > 3 })).join('\n');
    const [capture] = readCapture(text, { keys: { jump: 'up' } });
    expect(capture!.time).to.have.length(20);
    expect(capture!.keys!.jump!.slice(2, 6)).to.deep.equal([0, 0, 1, 1]);
  });

  it('has several bodies by a column, of which one may be meant', () => {
    const text = `t,who,x,y\n${rows.flatMap(([t, x, y]) => [`${t},Brindle,${x},${y}`, `${t},crow,5,5`]).join('\n')}\n`;
    expect(readCapture(text, { who: 'who', file: 'yard.csv' }).map(({ name }) => name)).to.deep.equal(['yard.csv (Brindle)', 'yard.csv (crow)']);
    const [one, ...others] = readCapture(text, { who: 'who', body: 'Brindle' });
    expect([one!.x.length, others.length]).to.deep.equal([20, 0]);
    expect(() => readCapture(text, { who: 'who', body: 'gull' })).to.throw(FileError, 'nobody is "gull"');
  }); // prettier-ignore

  it('passes over moments at which a body has no place, and takes decimal commas', () => {
    const [capture] = readCapture('t;x;y\n0;1,5;2\n0,1;;\n0,2;2,5;3\n');
    expect(capture).to.deep.include({ time: [0, 0.2], x: [1.5, 2.5], y: [2, 3] });
  });

  for (const [what, text, options, says] of [
    ['without a time', table('when,x,y,k'), {}, 'no column is named time or t'],
    ['with a wrong name', table('time,x,y,space'), { x: 'px' }, 'there is no column "px"; did you mean x?'],
    ['with a word for a number', 'time,x,y\n0,1,2\n1,one,2\n', {}, ':3:1: x is "one"'],
    ['with a short row', 'time,x,y\n0,1\n', {}, ':2:1: this line has fewer fields'],
    ['that is empty', '', {}, 'it is no table'],
    ['with a line that is no object', '{"t":0,"x":1,"y":1}\nnonsense\n', {}, ':2:1: this line is no JSON object'],
    ['without samples', '{"t":0}\n', { x: 't', y: 't', time: 'x' }, 'there is no column "x"'],
  ] as const)
    it(`is refused with the place: one ${what}`, () => {
      expect(() => readCapture(text, { ...options, file: 'c.csv' })).to.throw(FileError, says);
    });

  it('refuses a key that there is not', () => {
    expect(() => readCapture(table('time,x,y,k'), { keys: { hop: 'k' } })).to.throw(
      RangeError,
      'there is no action hop',
    );
  });
});
