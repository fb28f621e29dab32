import { spawn, spawnSync } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';

const { answer } = (await import(
  new URL('../../dist/cli/program.js', import.meta.url).href
)) as typeof import('../../src/cli/program.js');
const main = fileURLToPath(new URL('../../dist/cli/main.js', import.meta.url));
export const DATA = fileURLToPath(new URL('../../data/tide-mill/', import.meta.url));

export interface Answer {
  status: number | null;
  out: string;
  err: string;
}

/** Answers a call of the command line in this process; `stdin` is what comes in by standard input. */
export async function apperin(args: readonly string[], cwd?: string, stdin: string | Uint8Array = ''): Promise<Answer> {
  const [before, out, err]: [string, Uint8Array[], string[]] = [process.cwd(), [], []];
  if (cwd) process.chdir(cwd);
  try {
    const status = await answer(args, {
      out: (data) => void out.push(Buffer.from(data as Uint8Array)),
      err: (text) => void err.push(text),
      watched: false,
      stdin: () => Buffer.from(stdin as Uint8Array),
    });
    return { status, out: Buffer.concat(out).toString(), err: err.join('') };
  } finally {
    process.chdir(before);
  }
}

/** How it is started; `blocks` (of 512 bytes) is the most that a file may have then, as on a disk that runs full: more is written in part, and then not at all. */
function started(args: readonly string[], blocks: number | undefined, program = main): string[] {
  const words = [process.execPath, program, ...args];
  return blocks === undefined ? words : ['sh', '-c', `ulimit -f ${blocks} && exec "$@"`, 'sh', ...words];
}

/** Runs the command line as a process of its own. */
export function startApperin(args: readonly string[], cwd?: string, blocks?: number, nodeOptions = ''): Answer {
  const [command, ...words] = started(args, blocks);
  const { status, stdout, stderr } = spawnSync(command!, words, {
    encoding: 'utf8',
    ...(cwd ? { cwd } : {}),
    env: { ...process.env, NO_COLOR: '1', NODE_OPTIONS: nodeOptions },
    maxBuffer: 1 << 28,
    timeout: 240_000,
  });
  return { status, out: stdout, err: stderr };
}

/** Runs the command line and interrupts it once it says so on standard error. */
export async function interrupted(args: readonly string[], when: string, cwd?: string): Promise<Answer> {
  const child = spawn(process.execPath, [main, ...args], { ...(cwd ? { cwd } : {}), env: { ...process.env, NO_COLOR: '1', NODE_OPTIONS: '' } });
  let [out, err] = ['', ''];
  child.stdout.on('data', (text: Buffer) => (out += text.toString()));
  child.stderr.on('data', (text: Buffer) => {
    if (!err.includes(when) && (err + text.toString()).includes(when)) child.kill('SIGINT');
    err += text.toString();
  });
  const status = await new Promise<number | null>((done) => child.on('close', done));
  return { status, out, err };
} // prettier-ignore

/** Starts the Loft as a process, on files of a folder; `stop` interrupts it and waits for its end. */
export interface Loft {
  address: string;
  stop(): Promise<number | null>;
  /** Ends it at once, in the middle of whatever it does. */
  kill(): void;
}

export async function serveLoft(args: readonly string[], cwd: string, blocks?: number, program?: string): Promise<Loft> {
  const [command, ...words] = started(['loft', ...args, '--json'], blocks, program);
  const child = spawn(command!, words, { cwd, env: { ...process.env, NODE_OPTIONS: '' } });
  const ended = new Promise<number | null>((done) => child.on('close', done));
  // A test that fails leaves nothing running.
  const kill = (): void => void child.kill();
  process.once('exit', kill);
  void ended.then(() => process.off('exit', kill));
  let [out, err] = ['', ''];
  const address = await new Promise<string>((done, fail) => {
    child.stderr.on('data', (text: Buffer) => (err += text.toString()));
    child.stdout.on('data', (text: Buffer) => {
      out += text.toString();
      const found = /"address": "([^"]+)"/.exec(out);
      if (found) done(found[1]!);
    });
    void ended.then((status) => fail(new Error(`it ended with ${status}: ${err}`)));
  });
  return {
    address,
    kill: () => void child.kill('SIGKILL'),
    async stop() {
      child.kill('SIGINT');
      return ended;
    },
  };
} // prettier-ignore

/** A folder that is gone after the test. */
export function withFolder<T>(use: (folder: string) => T): T {
  const folder = mkdtempSync(join(tmpdir(), 'apperin-'));
  const remove = (): void => rmSync(folder, { recursive: true });
  let result: T;
  try {
    result = use(folder);
  } catch (error) {
    remove();
    throw error;
  }
  if (result instanceof Promise) return result.finally(remove) as T;
  remove();
  return result;
}
