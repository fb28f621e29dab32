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
  const lines = ['<?xml version="1.0" encoding="UTF-8"?>', '<testsuites name="apperin verify">'];
  for (const [name, cases] of Object.entries(suites)) {
    const failures = cases.filter(({ failure }) => failure !== '').length;
    lines.push(`  <testsuite name="${value(name)}" tests="${cases.length}" failures="${failures}" errors="0" skipped="0">`);
    for (const { name: what, failure } of cases) {
      const start = `    <testcase name="${value(what)}" classname="${value(name)}"`;
      if (failure === '') lines.push(`${start}/>`);
      else lines.push(`${start}>`, `      <failure message="${value(failure)}"/>`, '    </testcase>');
    }
    lines.push('  </testsuite>');
  }
  return `${[...lines, '</testsuites>'].join('\n')}\n`;
} // prettier-ignore

const NAMED: Readonly<Record<string, string>> = { '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;', '\t': '&#x9;', '\n': '&#xA;', '\r': '&#xD;' }; // prettier-ignore

/** A text as the value of an attribute, without the characters that XML cannot hold. */
function value(text: string): string {
  return text
    .replace(/[^\t\n\r\u0020-\uD7FF\uE000-\uFFFD\u{10000}-\u{10FFFF}]/gu, '\uFFFD')
    .replace(/[&<>"\t\n\r]/g, (mark) => NAMED[mark]!);
}
