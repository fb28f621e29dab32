/** What is read. */
export type Kind = 'tuning' | 'level' | 'input' | 'keys' | 'promises' | 'frames' | 'capture';

export const SUFFIXES: readonly [string, Kind][] = [
  ['.tuning.yaml', 'tuning'],
  ['.tuning.json', 'tuning'],
  ['.level.yaml', 'level'],
  ['.level.svg', 'level'],
  ['.input.csv', 'input'],
  ['.keys.yaml', 'keys'],
  ['.promises.yaml', 'promises'],
  ['.frames.yaml', 'frames'],
  ['.capture.csv', 'capture'],
  ['.capture.jsonl', 'capture'],
];

/** What a file is, by its suffix. */
export function kindOf(file: string): Kind | undefined {
  return SUFFIXES.find(([suffix]) => file.endsWith(suffix))?.[1];
}

/** Keys at the top that only one kind of file has. */
const KEYS: readonly [Kind, readonly string[]][] = [
  ['level', ['rows', 'marks', 'spawns', 'movers', 'zones']],
  ['keys', ['actions', 'deadZone']],
  ['promises', ['promises']],
  ['frames', ['launch', 'order']],
];

/** What a text without a name is, by what stands at its top: a tuning where nothing says otherwise. */
export function kindOfText(text: string): Kind {
  const start = text.slice(0, 65536).trimStart();
  if (start.startsWith('<')) return 'level';
  if (start.startsWith('time,action,value')) return 'input';
  // Keys at the beginning of a line, or right within the outermost braces.
  const names = new Set(Array.from(start.matchAll(/^(?:[{,] {0,8})?"?([A-Za-z]{1,16})"? ?:/gm), ([, name]) => name));
  if (start.startsWith('{')) for (const [, name] of start.matchAll(/^ {1,4}"([A-Za-z]{1,16})" ?:/gm)) names.add(name);
  return KEYS.find(([, known]) => known.some((name) => names.has(name)))?.[0] ?? 'tuning';
}
