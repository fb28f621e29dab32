/** How much is done of what could go on for ever: `npm run quick`, `npm test`, or `npm run deep`. */
export type Amounts<T> = Readonly<Record<'quick' | 'test' | 'deep', T>>;

const said = process.env.APPERIN_TESTS ?? 'test';
if (said !== 'quick' && said !== 'test' && said !== 'deep')
  throw new RangeError(`APPERIN_TESTS is ${said}; it must be quick, test or deep`);

/** Which of them this is. */
export const LEVEL: keyof Amounts<unknown> = said;

/** The amount for this run. */
export function share<T>(amounts: Amounts<T>): T {
  return amounts[LEVEL];
}

/** `5 of 50 kills`: for the title of a test that does a share. */
export function shareOf(amounts: Amounts<number>, what: string): string {
  const [now, all] = [amounts[LEVEL], amounts.deep].map((amount) => amount.toLocaleString('en'));
  return now === all ? `${all} ${what}` : `${now} of ${all} ${what}`;
}

/** A test that takes too long for `npm run quick`. */
export function fully(title: string, test: (this: Mocha.Context) => unknown): Mocha.Test {
  // Looked up at each call: a process that runs several files has another one for each.
  return (LEVEL === 'quick' ? it.skip : it)(title, test as Mocha.AsyncFunc);
}
