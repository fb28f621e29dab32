import { expect } from 'chai';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import {
  ConvertError,
  FileError,
  drawingOf,
  edgeKeys,
  editDrawing,
  intoRows,
  piecesOf,
  readLevel,
  type PieceEdit,
} from 'apperin/files';
import { DATA } from '../support/cli.js';

const data = (name: string): string => readFileSync(join(DATA, name), 'utf8');

/** Every kind of element that a level may be drawn with, by a careful hand: half a unit is 16. */
const DRAWN = `<?xml version="1.0"?>
<!-- a shed -->
<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 640 320" data-units="32">
  <rect class="solid" id='floor' x="0" y="256"
        width="640" height="64"/> <!-- stays -->
  <polygon class="solid" points="320,256 384,256-10,-5"/>
  <polyline class="one-way" points="64 128, 128 128"/>
  <line class="solid" x1="500" y1="0" x2="500" y2="64" data-name="wire"/>
  <g transform="translate(10 20) scale(2)">
    <circle class="solid" cx="40" cy="20" r="5"/>
    <path class="solid" d="M100,10 q 5 -5 10 0 v 10 h -10 z" transform="rotate(90)"/>
  </g>
  <path class="solid" id="sill" d="M 400,256 h 32 v -32 h -32 z"/>
  <g class="mover" id="lift" data-policy="stop"><rect class="one-way" x="200" y="100" width="64" height="8"/>
    <animateMotion path="M0,0 V-64" dur="4s"/></g>
  <circle class="spawn" id="start" cx="48" cy="256" r="4"/>
  <g id="unused"><use href="#sill" x="100"/></g>
</svg>
`;

describe('Pieces of a drawn level', () => {
  it('are told in the order of the drawing, with their corners in units, and what they are a part of', () => {
    const pieces = piecesOf(DRAWN);
    expect(pieces.map(({ kind, name, mover, closed, corners }) => [kind, name, mover, closed, corners.length])).to.deep.equal([
      ['solid', 'floor', '', true, 4],
      ['solid', '', '', true, 3],
      ['one-way', '', '', false, 2],
      ['solid', 'wire', '', false, 2],
      ['solid', '', '', false, 0],
      ['solid', '', '', false, 0],
      ['solid', 'sill', '', true, 4],
      ['one-way', '', 'lift', true, 4],
      ['spawn', 'start', '', false, 0],
    ]); // prettier-ignore
    expect(pieces[0]!.corners).to.deep.equal([[0, 8], [20, 8], [20, 10], [0, 10]]); // prettier-ignore
    expect(pieces[8]!.outlines).to.deep.equal([{ points: [[1.5, 8]], closed: false }]);
  });

  it('go where they are moved to, to the unit, whatever they are drawn with; and back to the same text', () => {
    const before = piecesOf(DRAWN);
    before.forEach((piece, i) => {
      const moved = editDrawing(DRAWN, [{ move: i, by: [0.5, -0.25] }]);
      const after = piecesOf(moved);
      after.forEach((other, k) => {
        const was = before[k]!.outlines.flatMap(({ points }) => points);
        const is = other.outlines.flatMap(({ points }) => points);
        const by = k === i ? [0.5, -0.25] : [0, 0];
        expect(is.length, piece.name).to.equal(was.length);
        is.forEach(([x, y], p) => {
          expect(x).to.be.closeTo(was[p]![0] + by[0]!, 1e-6);
          expect(y).to.be.closeTo(was[p]![1] + by[1]!, 1e-6);
        });
      });
      // The only change is in the one element.
      const lines = moved.split('\n').filter((line, n) => line !== DRAWN.split('\n')[n]);
      expect(lines.length, piece.name).to.equal(1);
      const back = editDrawing(moved, [{ move: i, by: [-0.5, 0.25] }]);
      // Two numbers that a sign had stood between are written with a blank.
      expect(back.replace('256 -10', '256-10')).to.equal(DRAWN);
    });
  });

  it('have edges that go along their normal, and corners that go anywhere', () => {
    const corners = (edits: PieceEdit[], piece: number) => piecesOf(editDrawing(DRAWN, edits))[piece]!.corners;
    expect(corners([{ edge: [0, 0], by: [3, 1] }], 0)).to.deep.equal([[0, 9], [20, 9], [20, 10], [0, 10]]); // prettier-ignore
    expect(corners([{ edge: [0, 3], by: [3, 1] }], 0)[0]).to.deep.equal([3, 8]);
    expect(corners([{ corner: [0, 2], by: [-1, 1] }], 0)).to.deep.equal([[0, 8], [19, 8], [19, 11], [0, 11]]); // prettier-ignore
    expect(corners([{ edge: [6, 1], by: [1, 1] }], 6)).to.deep.equal([[12.5, 8], [14.5, 8], [14.5, 7], [12.5, 7]]); // prettier-ignore
    expect(editDrawing(DRAWN, [{ edge: [6, 1], by: [1, 1] }])).to.include('d="M 400,256 H 464 V 224 H 400 Z"');
    expect(corners([{ corner: [3, 1], by: [0, 1] }], 3)).to.deep.equal([[15.625, 0], [15.625, 3]]); // prettier-ignore
    expect(corners([{ corner: [2, 0], by: [-1, 0] }], 2)[0]).to.deep.equal([1, 4]);
  });

  it('are refused where they would be turned inside out, or are none', () => {
    expect(() => editDrawing(DRAWN, [{ edge: [0, 0], by: [0, 2] }])).to.throw(RangeError, 'the piece would have no height');
    expect(() => editDrawing(DRAWN, [{ edge: [6, 0], by: [0, -1.5] }])).to.throw(RangeError, 'turned inside out');
    expect(() => editDrawing(DRAWN, [{ move: 9, by: [0, 0] }])).to.throw(RangeError, 'there is no piece 9; there are 9');
    expect(() => editDrawing(DRAWN, [{ edge: [2, 1], by: [0, 0] }])).to.throw(RangeError, 'there is no edge 1; there are 1');
    expect(() => editDrawing(DRAWN, [{ corner: [4, 0], by: [0, 0] }])).to.throw(RangeError, 'there is no corner 0; there are 0');
    expect(() => editDrawing('<svg', [])).not.to.throw();
    expect(() => piecesOf('<svg')).to.throw(FileError);
  }); // prettier-ignore

  it('are added at the end and taken away with their line, and nothing else changes', () => {
    const more = editDrawing(DRAWN, [{ add: 'one-way', points: [[1, 2], [3, 2]], closed: false }, { add: 'solid', points: [[5, 5], [6, 5], [6, 6]], closed: true }]); // prettier-ignore
    expect(more).to.equal(DRAWN.replace('</svg>', '  <polyline class="one-way" points="32,64 96,64"/>\n  <polygon class="solid" points="160,160 192,160 192,192"/>\n</svg>'));
    const fewer = editDrawing(DRAWN, [{ remove: 2 }]);
    expect(fewer).to.equal(DRAWN.split('\n').filter((line) => !line.includes('one-way" points')).join('\n'));
    // What follows on the line stays.
    expect(editDrawing(DRAWN, [{ remove: 0 }])).to.include('<!-- stays -->').and.not.to.include("id='floor'");
    expect(() => editDrawing(DRAWN, [{ add: 'solid', points: [[0, 0]], closed: true }])).to.throw(RangeError, 'points has 1; it must have 3 or more');
  }); // prettier-ignore

  it('go up where y points up', () => {
    const up = '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 -10 10 10" data-y-points="up"><rect class="solid" x="0" y="-2" width="10" height="2"/></svg>';
    expect(piecesOf(editDrawing(up, [{ move: 0, by: [0, 1] }]))[0]!.corners[0]).to.deep.equal([0, 3]);
    expect(editDrawing(up, [{ move: 0, by: [0, 1] }])).to.include('y="-3"');
  }); // prettier-ignore
});

describe('A level in rows whose pieces were moved', () => {
  const YARD = data('yard.level.yaml');
  const moved = (text: string, edits: (drawing: string) => PieceEdit[], file = 'x.level.yaml'): string => {
    const { level, compiled } = readLevel(text, { file });
    const drawing = drawingOf(level as never, compiled.extent);
    return intoRows(text, editDrawing(drawing, edits(drawing)), file);
  };
  const pieceAt = (drawing: string, x: number, y: number): number => piecesOf(drawing).findIndex(({ corners }) => corners[0]?.[0] === x && corners[0][1] === y); // prettier-ignore

  it('keeps its text but for the characters of the tiles that moved, in whole tiles', () => {
    const text = moved(YARD, (drawing) => [{ move: pieceAt(drawing, 42, 2), by: [-1, 1] }]);
    const [was, is] = [YARD.split('\n'), text.split('\n')];
    expect(is.map((line, i) => (line === was[i] ? '' : line.trim())).filter((line) => line !== '')).to.deep.equal([
      '- "................................................"',
      '- ".........................................####..."',
    ]);
    for (const name of ['yard', 'weir', 'wheelhouse', 'hoist']) expect(moved(data(`${name}.level.yaml`), () => []), name).to.equal(data(`${name}.level.yaml`)); // prettier-ignore
  });

  it('uses the marks that it has, and keeps spawns and what is no tile', () => {
    const text =
      'rows: |\n  ......\n  .@.g.~\n  ######\nmarks:\n  g: { solid: full, name: gate }\n  "~": { zone: {}, name: pool }\n';
    const once = moved(text, (drawing) => [{ move: pieceAt(drawing, 3, 1), by: [1, -1] }]);
    expect(once).to.equal(text.replace('  ......\n  .@.g.~', '  ....g.\n  .@...~'));
    const plank = moved('rows: ["....", "@...", "####"]\n', () => [{ add: 'one-way', points: [[1, 1], [3, 1]], closed: false }]); // prettier-ignore
    expect(plank).to.equal('rows: ["....", "@==.", "####"]\n');
  });

  it('is refused where a piece has left the grid, the level, or the rows', () => {
    const at = (by: [number, number]) => () => moved(YARD, (drawing) => [{ move: pieceAt(drawing, 42, 2), by }]);
    expect(at([0.5, 0])).to.throw(ConvertError);
    expect(at([8, 0])).to.throw(ConvertError, 'the edge from 50, 2 to 54, 2 lies outside the level');
    expect(() => moved(YARD, (drawing) => [{ move: piecesOf(drawing).findIndex(({ kind }) => kind === 'spawn'), by: [1, 0] }])).to.throw(ConvertError, 'spawns were changed, which do not stand in the rows');
    expect(() => intoRows('shapes: [{ solid: [0, 0, 1, 1] }]\nspawns: { start: [0, 0] }\n', '', 'x.level.yaml')).to.throw(ConvertError, 'the level is not in rows');
  }); // prettier-ignore

  it('has the same edges as a drawing, blocks of tiles being one shape', () => {
    for (const name of ['yard', 'weir', 'wheelhouse', 'hoist']) {
      const { level, compiled } = readLevel(data(`${name}.level.yaml`), { file: 'x.level.yaml' });
      const drawn = readLevel(drawingOf(level as never), { file: 'x.level.svg' }).compiled;
      expect(edgeKeys(drawn).sort(), name).to.deep.equal(edgeKeys(compiled).sort());
    }
    expect(piecesOf(drawingOf({ rows: ['@..', '##.', '##.'] })).filter(({ kind }) => kind === 'solid').length).to.equal(
      1,
    );
  });
});
