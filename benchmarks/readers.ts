import { FileError, readInput, readLevel, readTuning } from 'apperin/files';

const times = (count: number, make: (i: number) => string, between = ''): string =>
  Array.from({ length: count }, (_, i) => make(i)).join(between);
const drawn = (inner: string): string =>
  `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 400 400">${inner}<circle class="spawn" r="1"/></svg>`;
const draw = (text: string) => readLevel(text, { file: 'a.level.svg' });
const path = (d: string): string => drawn(`<path class="solid" d="${d}"/>`);

let state = 1;
const random = (): number => (state = (state * 48271) % 2147483647) / 2147483647;

/** Texts that somebody might send to hold a reader up: each is an answer or an error, and soon. */
const TEXTS: readonly [string, () => string, (text: string) => unknown][] = [
  ['2 kB of blanks in a transform', () => drawn(`<rect class="solid" width="1" height="1" transform="${' '.repeat(2000)}!"/>`), draw],
  ['2 kB of digits in a length', () => drawn(`<rect class="solid" width="${'1'.repeat(2000)}!" height="1"/>`), draw],
  ['260 kB of unknown keys', () => times(26_000, (i) => `k${i}: 1`, '\n'), (text) => readTuning(text)],
  ['100,000 spawns', () => `rows: ["#@"]\nspawns:\n${times(100_000, (i) => `  s${i}: [1, 1]`, '\n')}`, (text) => readLevel(text)],
  ['40,000 spawns', () => `rows: ["#@"]\nspawns:\n${times(40_000, (i) => `  s${i}: [1, 1]`, '\n')}`, (text) => readLevel(text)],
  ['100,000 squares in one path', () => path(times(100_000, (i) => `M${(i % 316) * 2},${Math.floor(i / 316) * 2}h1v1h-1z`)), draw],
  ['70,000 squares in one path', () => path(times(70_000, (i) => `M${(i % 316) * 2},${Math.floor(i / 316) * 2}h1v1h-1z`)), draw],
  ['6,000 squares in one path that touch', () => path(times(6000, (i) => `M${i % 100},${Math.floor(i / 100)}h1v1h-1z`)), draw],
  ['a ring of 8,000 jagged points', () => path(`M0,200 ${times(8000, (i) => `${i / 20},${i % 2 ? 10 + random() : 100 + random()}`, ' ')} 400,200z`), draw],
  ['a ring of 8,000 points that crosses itself', () => path(`M${times(8000, (i) => `${i / 20},${i % 2 ? 10 + random() : 100 + random()}`, ' ')}z`), draw],
  ['a scribble of 100 points', () => path(`M${times(100, () => `${random() * 400},${random() * 400}`, ' ')}z`), draw],
  ['a scribble of 1,000 points', () => path(`M${times(1000, () => `${random() * 400},${random() * 400}`, ' ')}z`), draw],
  ['a million rows of an input', () => `time,action,value\n${times(1_000_000, (i) => `${i / 1000},jump,${i % 2}`, '\n')}`, (text) => readInput(text)],
]; // prettier-ignore

/** Each in seconds, and against a bare pass over its characters. */
export function readers(): string[] {
  return TEXTS.map(([name, make, read]) => {
    const text = make();
    const from = performance.now();
    let sum = 0;
    for (let i = 0; i < text.length; i++) sum += text.charCodeAt(i);
    const between = performance.now();
    let answer = 'read';
    try {
      read(text);
    } catch (error) {
      if (!(error instanceof FileError)) throw error;
      answer = 'refused';
    }
    const seconds = (performance.now() - between) / 1000;
    return `${name}: ${answer} in ${seconds.toFixed(2)} s (aim: 5), ${((seconds * 1000) / Math.max(between - from, 0.01)).toFixed(0)} times a bare pass over its ${sum > 0 ? text.length : 0} characters`;
  });
}
