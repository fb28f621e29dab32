import { readKeys, writeKeys, FileError, type Bindings } from 'apperin/files';
import { expect } from 'chai';

const wrong = (text: string): string[] => {
  try {
    readKeys(text, { file: 'hero.keys.yaml' });
  } catch (error) {
    if (error instanceof FileError) return error.problems.map(({ line, column, message }) => `${line}:${column} ${message}`);
    throw error;
  }
  return [];
}; // prettier-ignore

describe('Key bindings in a file', () => {
  const TEXT = `opposed: latest
deadZone: 0.1
actions:
  left: { keys: [ArrowLeft, KeyA], buttons: [14] }
  jump: { keys: [Space] }
  dash: { keys: [KeyX] }
  move: { axis: 2 }
`;

  it('are read, and written so that they read back the same', () => {
    const { bindings, warnings } = readKeys(TEXT, { actions: ['dash'] });
    expect(bindings).to.deep.equal({
      opposed: 'latest',
      deadZone: 0.1,
      axis: 2,
      keys: { left: ['ArrowLeft', 'KeyA'], jump: ['Space'], dash: ['KeyX'] },
      buttons: { left: [14], jump: [], dash: [] },
    } satisfies Bindings);
    expect(warnings).to.deep.equal([]);
    expect(readKeys(writeKeys(bindings), { actions: ['dash'] }).bindings).to.deep.equal(bindings);
    expect(readKeys('actions: {}').bindings).to.deep.equal({ opposed: 'still', deadZone: 0.2, axis: 0, keys: {}, buttons: {} }); // prettier-ignore
  });

  it('warn of what no keyboard has, and of actions that only a game may know', () => {
    const { warnings } = readKeys('actions:\n  jmp: { keys: [Spce, F13] }\n');
    expect(warnings.map(({ line, column, message }) => `${line}:${column} ${message}`)).to.deep.equal([
      '2:3 no built-in action is called jmp; did you mean jump? (an ability of the game may declare it)',
      '2:17 "Spce" is no common name of a key; did you mean Space?',
    ]);
  });

  it('are refused with the place of what is wrong', () => {
    expect(wrong('')).to.deep.equal(['1:1 there are no actions']);
    expect(wrong('oposed: still\nactions: {}')).to.deep.equal([
      '1:1 there is no key oposed; did you mean opposed?',
    ]);
    expect(wrong('opposed: last\nactions: {}')).to.deep.equal(['1:10 opposed is "last"; it must be still, latest, first']);
    expect(wrong('actions:\n  jump: { keys: Space }')).to.deep.equal(['2:17 actions.jump.keys is "Space"; it must be a list of names of keys']);
    expect(wrong('actions:\n  jump: { buttons: [0.5] }')).to.deep.equal(['2:21 actions.jump.buttons.0 is 0.5; it must be a whole number of 0 to 31']);
    expect(wrong('actions:\n  move: { keys: [KeyA] }')).to.deep.equal(['2:11 there is no key actions.move.keys; the keys here are axis']);
    expect(wrong('actions:\n  jump: [Space]')).to.deep.equal(['2:9 actions.jump is a list; it must be a group of keys and buttons']);
    expect(wrong('- 1')[0]).to.match(/^1:1 this is a list; it must be a group of keys with actions/);
    expect(wrong(`actions: ${'['.repeat(400)}`)[0]).to.match(/nested more than/);
    expect(wrong('x'.repeat(300_000))[0]).to.match(/at most 262144 are read/);
    expect(wrong('actions: { jump: { keys: [KeyA] }, jump: { keys: [KeyB] } }')[0]).to.match(/unique/);
  }); // prettier-ignore
});
