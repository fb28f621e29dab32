/** Prints what a fuzz script found: counts, the most frequent first, and what is wrong; then the process fails. */
export function report(
  summary: string,
  counts: Readonly<Record<string, Record<string, number>>>,
  wrong: readonly string[],
): void {
  console.log(summary);
  for (const [name, list] of Object.entries(counts)) {
    const sorted = Object.entries(list).sort(([, a], [, b]) => b - a);
    console.log(`${name}: ${sorted.map(([what, count]) => `${what} ${count}`).join(', ')}`);
  }
  for (const line of wrong) console.log(`WRONG: ${line}`);
  process.exitCode = wrong.length > 0 ? 1 : 0;
}
