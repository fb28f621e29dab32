import { FileError, formatProblem, visible, type Problem } from 'apperin/files';
import { warnings } from 'apperin/lab';
import { remarkMissing } from './abilities.js';
import { call } from './call.js';
import { CallError, EXIT } from './exit.js';
import {
  applySets,
  kindGiven,
  loadCapture,
  loadFrames,
  loadInput,
  loadKeys,
  loadLevel,
  loadPromises,
  loadTuning,
  sortFiles,
} from './load.js';
import type { Shared } from './options.js';
import { print, printJson } from './print.js';
import { TuningError, compileTuning, type Motion, type Tuning } from 'apperin';

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

function lookAtCapture(file: string): Problem[] {
  try {
    loadCapture(file, {});
  } catch (error) {
    if (!(
      error instanceof FileError && error.problems.every(({ message }) => message.startsWith('no column is named'))
    ))
      throw error;
  }
  return [];
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
    case 'capture':
      // Which columns it has is said where it is used.
      return lookAtCapture(file);
    case 'promises':
      return loadPromises(file).warnings;
    case 'tuning': {
      const sets = options.set ?? [];
      const loaded = loadTuning(file);
      const motion = motionOf(loaded.tuning, sets);
      remarkMissing(motion, `${file}: looked at`, options);
      const felt = warnings(motion, { rate: options.rate ?? 60 });
      return [
        ...loaded.warnings,
        ...felt.map(({ key, reason, suggestion }): Problem => {
          const message = `${key}: ${reason}; try ${suggestion}`;
          const set = problemOfSet(sets, key, message, 'warning');
          if (set) return set;
          const place = loaded.placeOf(key);
          return { file, ...place, message, source: loaded.line(place.line), severity: 'warning' };
        }),
      ];
    }
  }
}

/** Compiles a tuning with what was set; the file was read without complaint, so that what is wrong then is said of that. */
function motionOf(tuning: Tuning, sets: readonly string[]): Motion {
  try {
    return compileTuning(applySets(tuning, sets));
  } catch (error) {
    const refused = error instanceof CallError ? error.cause : error;
    if (!(refused instanceof TuningError) || sets.length === 0) throw error;
    const group = refused.key.split('.', 1)[0]!;
    const within = sets.filter((set) => set.split(/[.=]/, 1)[0] === group);
    throw new FileError([
      problemOfSet(sets, refused.key, refused.message, 'error') ??
        underlined(sets, (within.at(-1) ?? sets.at(-1))!, refused.message, 'error'),
    ]);
  }
}

/** What is to be said of a key that was set in the call; undefined where it was not. */
function problemOfSet(
  sets: readonly string[],
  key: string,
  message: string,
  severity: Problem['severity'],
): Problem | undefined {
  const set = sets.findLast((one) => {
    const [name] = one.split('=', 1) as [string];
    return name === key || key.startsWith(`${name}.`) || name.startsWith(`${key}.`);
  });
  return set === undefined ? undefined : underlined(sets, set, message, severity);
}

/** A problem of one of the call's changes: its value is underlined. */
function underlined(sets: readonly string[], set: string, message: string, severity: Problem['severity']): Problem {
  return {
    file: '--set',
    line: sets.lastIndexOf(set) + 1,
    column: set.indexOf('=') + 2,
    message,
    source: set,
    severity,
  };
}
