import { create } from 'xmlbuilder2';

/** One thing that was checked, for a report that CI understands. */
export interface CheckedCase {
  name: string;
  /** Why it failed; empty where it did not. */
  failure: string;
}

/**
 * Checks as JUnit XML.
 * @param suites the checks, by the name of what they are about
 */
export function writeJunit(suites: Readonly<Record<string, readonly CheckedCase[]>>): string {
  const root = create({ version: '1.0', encoding: 'UTF-8' }).ele('testsuites', { name: 'apperin verify' });
  for (const [name, cases] of Object.entries(suites)) {
    const failures = cases.filter(({ failure }) => failure !== '').length;
    const suite = root.ele('testsuite', { name: clean(name), tests: cases.length, failures, errors: 0, skipped: 0 });
    for (const { name: what, failure } of cases) {
      const made = suite.ele('testcase', { name: clean(what), classname: clean(name) });
      if (failure !== '') made.ele('failure', { message: clean(failure) });
    }
  }
  return `${root.end({ prettyPrint: true })}\n`;
}

/** Without the characters that XML cannot hold. */
function clean(text: string): string {
  return text.replace(/[^\t\n\r\u0020-\uD7FF\uE000-\uFFFD\u{10000}-\u{10FFFF}]/gu, '\uFFFD');
}
