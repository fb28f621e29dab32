import { reportPage, type ReportedLevel } from '../figures/index.js';
import { abilitiesHere, remarkMissing } from './abilities.js';
import { CallError } from './exit.js';
import { sortFiles } from './load.js';
import type { Long, Shared } from './options.js';
import { printJson, wrote } from './print.js';
import { oneTuning } from './sheet.js';
import { refuseOutput, writeNamedOr } from './write.js';

/** `apperin report`: a character as a page to keep: what differs from a second tuning, and where it gets to in levels. */
export async function reportCommand(files: readonly string[], options: Shared & Long): Promise<void> {
  const { tuning, level } = sortFiles(files, options);
  if (tuning.length > 2) throw new CallError(`a report is about one tuning, and may compare it with a second, not ${tuning.length}`); // prettier-ignore
  if (options.out !== undefined && options.out !== '-' && !options.out.endsWith('.html'))
    throw new CallError(`--out ${options.out}: its name must end in .html`);
  const about = oneTuning(tuning[0], options);
  const other = tuning[1] === undefined ? undefined : oneTuning(tuning[1], options);
  for (const one of other ? [about, other] : [about]) remarkMissing(one.motion, `${one.name}: reckoned`, options);
  const named = options.out ?? `${about.name}.report.html`;
  if (options.out !== undefined) refuseOutput(named, 'report');
  const levels: ReportedLevel[] = [];
  for (const file of level)
    levels.push(await (await import('./survey-level.js')).reportedLevel(file, tuning[0], options));
  const page = reportPage(about, other, {
    levels,
    abilities: abilitiesHere(),
    ...(options.rate === undefined ? {} : { rate: options.rate }),
  });
  const out = await writeNamedOr(options.out, named, 'report', page);
  if (options.json) printJson({ report: out, tuning: about.name, ...(other ? { comparedWith: other.name } : {}) });
  else wrote([out], options.quiet);
}
