/**
 * The names that there are, for a message, with the one that was probably meant: the nearest by letters that are added, left out or changed, where no more than a third of them are.
 * @param none what to say where there are none
 */
export function listOf(names: readonly string[], wanted: string, none = 'none'): string {
  if (names.length === 0) return none;
  let best = '';
  let least = Math.floor(wanted.length / 3) + 1;
  for (const name of names) {
    const apart = lettersApart(wanted, name, least);
    if (apart >= least) continue;
    least = apart;
    best = name;
  }
  return `${names.join(', ')}${best === '' ? '' : ` (did you mean ${best}?)`}`;
}

/** How many letters have to be added, left out or changed to make one word of another; `most` where that is more. */
function lettersApart(a: string, b: string, most: number): number {
  if (Math.abs(a.length - b.length) >= most) return most;
  let row = Array.from({ length: b.length + 1 }, (_, i) => i);
  for (let i = 1; i <= a.length; i++) {
    const next = [i];
    for (let k = 1; k <= b.length; k++)
      next.push(Math.min(row[k]! + 1, next[k - 1]! + 1, row[k - 1]! + (a[i - 1] === b[k - 1] ? 0 : 1)));
    row = next;
  }
  return row[b.length]!;
}
