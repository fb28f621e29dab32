import { FileError, formatProblem, visible, type Problem } from '../files/index.js';
import { warnings } from '../lab/index.js';
import { call } from './call.js';
import { CallError, EXIT } from './exit.js';
import { kindGiven, loadFrames, loadInput, loadKeys, loadLevel, loadPromises, loadTuning, sortFiles } from './load.js';
import type { Shared } from './options.js';
import { print, printJson } from './print.js';
import { compiled } from './sheet.js';

interface Finding {
  file: string;
  problems: Problem[];
  /** What could not be read at all. */
  message?: string;
}

/** `apperin check`: 0 nothing to say, 1 something will feel wrong, 2 a file is wrong. */
export function check(files: readonly string[], options: Shared): void {
  sortFiles(files, {});
  const findings = files.map((file): Finding => {
    try {
      return { file, problems: look(file, options) };
    } catch (error) {
      if (error instanceof FileError) return { file, problems: [...error.problems] };
      if (error instanceof CallError) return { file, problems: [], message: error.message };
      throw error;
    }
  });
  const wrong = findings.filter(
    ({ problems, message }) => message !== undefined || problems.some(({ severity }) => severity === 'error'),
  );
  const odd = findings.filter((finding) => !wrong.includes(finding) && finding.problems.length > 0);
  call().status = wrong.length > 0 ? EXIT.wrong : odd.length > 0 ? EXIT.no : EXIT.done;
  if (options.json) {
    printJson({ files: findings });
    return;
  }
  for (const { file, problems, message } of findings) {
    if (message !== undefined) call().err(`${visible(message)}\n`);
    for (const problem of problems)
      if (problem.severity === 'error') call().err(`${formatProblem(problem)}\n`);
      else print(formatProblem(problem));
    if (message === undefined && problems.length === 0 && !options.quiet) print(`${file}: nothing to say against it`);
  }
}

function look(file: string, options: Shared): Problem[] {
  switch (kindGiven(file)!) {
    case 'level':
      return loadLevel(file).warnings;
    case 'input':
      return loadInput(file).warnings;
    case 'keys':
      return loadKeys(file).warnings;
    case 'frames':
      return loadFrames(file).warnings;
    case 'promises':
      return loadPromises(file).warnings;
    case 'tuning': {
      const loaded = loadTuning(file, options.set);
      const felt = warnings(compiled(loaded.tuning), { rate: options.rate ?? 60 });
      return [
        ...loaded.warnings,
        ...felt.map(({ key, reason, suggestion }): Problem => {
          const place = loaded.placeOf(key);
          return {
            file,
            ...place,
            message: `${key}: ${reason}; try ${suggestion}`,
            source: loaded.line(place.line),
            severity: 'warning',
          };
        }),
      ];
    }
  }
}
