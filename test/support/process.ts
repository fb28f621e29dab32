import { spawn } from 'node:child_process';
import { fileURLToPath } from 'node:url';

const main = fileURLToPath(new URL('../../dist/cli/main.js', import.meta.url));

/** The command line as a process that goes on beside the test. */
export interface Running {
  /** What it has said on standard error, and printed, so far. */
  said: () => string;
  out: () => string;
  /** Waits until it has said something. */
  until: (what: string | RegExp) => Promise<void>;
  /** Ends it. @returns its exit status */
  end: (signal?: NodeJS.Signals) => Promise<number | null>;
  ended: Promise<number | null>;
}

/**
 * @param isWatched whether it writes to a terminal: then all that it says and prints comes as printed
 * @param env variables of its surroundings
 */
export function running(
  args: readonly string[],
  cwd: string,
  { isWatched = false, env = {} }: { isWatched?: boolean; env?: Record<string, string> } = {},
): Running {
  const words = [process.execPath, main, ...args];
  const [command, ...rest] = isWatched
    ? ['script', '--quiet', '--return', '--command', words.map((word) => `'${word}'`).join(' '), '/dev/null']
    : words;
  const child = spawn(command!, rest, { cwd, env: { ...process.env, NO_COLOR: '1', NODE_OPTIONS: '', ...env }, stdio: [isWatched ? 'ignore' : 'pipe', 'pipe', 'pipe'] }); // prettier-ignore
  const kill = (): void => void child.kill('SIGKILL');
  process.once('exit', kill);
  let [out, err] = ['', ''];
  const waiting = new Set<() => void>();
  const look = (): void => waiting.forEach((one) => one());
  child.stdout!.on('data', (text: Buffer) => {
    out += text.toString();
    look();
  });
  child.stderr!.on('data', (text: Buffer) => {
    err += text.toString();
    look();
  });
  const ended = new Promise<number | null>((done) => child.on('close', done)).finally(() => process.off('exit', kill));
  return {
    said: () => err,
    out: () => out,
    ended,
    until: (what) =>
      new Promise((done, fail) => {
        const asked = (): void => {
          if (typeof what === 'string' ? !err.includes(what) : !what.test(err)) return;
          waiting.delete(asked);
          done();
        };
        waiting.add(asked);
        asked();
        void ended.then((status) => fail(new Error(`it ended with ${status}: ${err}`)));
      }),
    async end(signal = 'SIGTERM') {
      child.kill(signal);
      return ended;
    },
  };
}
