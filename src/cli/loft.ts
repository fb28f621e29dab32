import { createHash, randomBytes, timingSafeEqual } from 'node:crypto';
import { copyFileSync, existsSync, mkdtempSync, readFileSync } from 'node:fs';
import { createServer, type IncomingMessage, type Server, type ServerResponse } from 'node:http';
import type { AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { spawn } from 'node:child_process';
import send from 'send';
import { WebSocketServer, type WebSocket } from 'ws';
import { decodeText } from 'apperin/files';
import { CallError } from './exit.js';
import type { Shared } from './options.js';
import { print, printJson, remark } from './print.js';
import { GONE, MOST_WRITTEN, ServedFile, ServedModule } from './served.js';
import { watchFiles } from './watch.js';

/** The longest file that is written, and the longest message that is taken, bytes. */
export const LOFT_LIMITS = { file: MOST_WRITTEN, message: 1 << 18 } as const;

/** `apperin loft`: serves the Loft and the given files on the loopback address, until it is interrupted. */
export async function loftCommand(
  files: readonly string[],
  options: Shared & { port?: number; open?: boolean },
): Promise<void> {
  const given = files.length > 0 ? files : demoCopy();
  const page = fileURLToPath(new URL('../loft/', import.meta.url));
  if (!existsSync(`${page}index.html`)) throw new CallError('the page of the Loft is not built; npm run build makes it');
  const served = given.map((file) => new ServedFile(file));
  const modules = (options.abilities ?? []).map((file) => new ServedModule(file));
  const names = [...served, ...modules].map(({ name }) => name);
  const twice = names.find((name, i) => names.indexOf(name) !== i);
  if (twice !== undefined) throw new CallError(`two files are called ${twice}; give one of them another name`);
  if (served.filter(({ kind }) => kind === 'level').length > 1) throw new CallError('the Loft shows one level at a time; give one');
  const loft = await openLoft(page, served, modules, options.port ?? 0);
  const close = (): void => void loft.close().then(() => process.exit(0));
  process.on('SIGINT', close);
  process.on('SIGTERM', close);
  if (options.json) printJson({ address: loft.address, files: served.map(({ name, kind, path }) => ({ name, kind, path })) });
  else print(`the Loft: ${loft.address}`);
  remark(`with ${names.join(', ')}${files.length > 0 ? '' : `, copies of the demo data in ${dirname(served[0]!.path)}`}; Ctrl+C ends it`, options.quiet);
  if (options.open) openBrowser(loft.address);
} // prettier-ignore

/** What is opened where no files are given: copies, so that the package stays as it is. */
function demoCopy(): string[] {
  const folder = mkdtempSync(join(tmpdir(), 'apperin-loft-'));
  return ['saltreave.level.svg', 'brindle.tuning.yaml', 'nimble.tuning.yaml'].map((name) => {
    const copy = join(folder, name);
    copyFileSync(fileURLToPath(new URL(`../../data/tide-mill/${name}`, import.meta.url)), copy);
    return copy;
  });
}

interface Loft {
  address: string;
  close(): Promise<void>;
}

/** Serves the page and the files on the loopback address alone; whoever has not the token in the address is refused. */
async function openLoft(page: string, served: ServedFile[], modules: readonly ServedModule[], port: number): Promise<Loft> {
  const token = randomBytes(16).toString('hex');
  const server = createServer((request, response) => {
    // Whoever asks may be gone before the answer.
    response.on('error', () => {});
    answer(request, response).catch(() => response.destroy());
  });
  const sockets = new WebSocketServer({ noServer: true, maxPayload: LOFT_LIMITS.message });
  const hosts = new Set<string>();
  const watcher = watchFiles(look);
  const scripts = scriptPolicy(readFileSync(`${page}index.html`, 'utf8'));

  function look(path: string): void {
    for (const one of modules) if (one.path === path && one.renew()) tell({ says: 'changed', ...one.seen });
    for (const one of served) {
      if (one.path !== path && !one.basePaths.includes(path)) continue;
      const isNews = one.renew();
      watcher.add(one.basePaths);
      if (isNews) tell({ says: 'changed', ...one.seen });
    }
  }
  for (const { path, basePaths } of served) watcher.add([path, ...basePaths]);
  watcher.add(modules.map(({ path }) => path));

  /** Why a request is refused; empty where it is not. */
  function refusal({ headers, url }: IncomingMessage): string {
    if (!hosts.has(headers.host ?? '')) return 'another host name';
    const { origin } = headers;
    if (origin !== undefined && !(origin.startsWith('http://') && hosts.has(origin.slice(7)))) return 'another origin';
    const said = Buffer.from((url ?? '').split('/')[1] ?? '');
    const wanted = Buffer.from(token);
    return said.length === wanted.length && timingSafeEqual(said, wanted) ? '' : 'no token';
  }

  function say(response: ServerResponse, status: number, body: object): void {
    response.writeHead(status, { 'content-type': 'application/json; charset=utf-8', 'cache-control': 'no-store' });
    response.end(JSON.stringify(body));
  }

  async function answer(request: IncomingMessage, response: ServerResponse): Promise<void> {
    response.setHeader('x-content-type-options', 'nosniff');
    response.setHeader('referrer-policy', 'no-referrer');
    response.setHeader('content-security-policy', `default-src 'self'; script-src ${scripts}; style-src 'self' 'unsafe-inline'; img-src 'self' data: blob:; connect-src 'self'; worker-src 'self' blob:; frame-ancestors 'none'`); // prettier-ignore
    const why = refusal(request);
    if (why) return say(response, 403, { refused: why });
    const path = request.url!.slice(token.length + 1);
    try {
      if (path === '/files' && request.method === 'GET') return say(response, 200, { files: [...served, ...modules].map(({ seen }) => seen) });
      if (path.startsWith('/files/')) return await file(request, response, path.slice(7));
      if (path.startsWith('/abilities/') && request.method === 'GET') return script(response, path.slice(11).replace(/\?.*$/, ''));
    } catch (error) {
      return say(response, 500, { refused: (error as Error).message });
    }
    if (request.method !== 'GET' && request.method !== 'HEAD') return say(response, 405, { refused: 'only GET' });
    send(request, path === '' ? '/' : path.replace(/\?.*$/, ''), { root: page, dotfiles: 'deny' })
      .on('error', () => (response.headersSent ? response.destroy() : say(response, 404, { refused: 'there is nothing of that name' })))
      .on('directory', () => say(response, 404, { refused: 'there is nothing of that name' }))
      .pipe(response);
  }

  /** A module with abilities, of those that were given. */
  function script(response: ServerResponse, encoded: string): void {
    const one = modules.find(({ name }) => encodeURIComponent(name) === encoded);
    if (!one) return say(response, 404, { refused: 'that module was not given' });
    response.writeHead(200, { 'content-type': 'text/javascript; charset=utf-8', 'cache-control': 'no-store' });
    response.end(one.text);
  }

  /** A file is read, or written if it still is what the page thinks that it is. */
  async function file(request: IncomingMessage, response: ServerResponse, encoded: string): Promise<void> {
    let name: string;
    try {
      name = decodeURIComponent(encoded);
    } catch {
      return say(response, 400, { refused: 'that is no name' });
    }
    const one = served.find((other) => other.name === name);
    const wanted = /^"(.*)"$/.exec(request.headers['if-match'] ?? '')?.[1] ?? '';
    // A level in rows may become a drawing beside it, which is written once.
    const isNew = !one && request.method === 'PUT' && wanted === GONE;
    if (!one && !isNew) return say(response, 404, { refused: 'that file was not given' });
    if (request.method === 'GET') return say(response, 200, one!.seen);
    if (request.method !== 'PUT') return say(response, 405, { refused: 'only GET and PUT' });
    const chunks: Buffer[] = [];
    let size = 0;
    for await (const chunk of request as AsyncIterable<Buffer>) {
      size += chunk.length;
      if (size > LOFT_LIMITS.file) {
        response.setHeader('connection', 'close');
        return say(response, 413, { refused: `a file has at most ${LOFT_LIMITS.file} bytes` });
      }
      chunks.push(chunk);
    }
    const text = decodeText(Buffer.concat(chunks), name, LOFT_LIMITS.file);
    if (!one) {
      for (const level of served) {
        const made = await level.beside(name, text);
        if (!made) continue;
        served.push(made);
        watcher.add([made.path]);
        return say(response, 200, made.seen);
      }
      return say(response, 409, { refused: `${name} was not given, or is there already` });
    }
    const { status, refused } = await one.save(text, wanted);
    watcher.add(one.basePaths);
    say(response, status, { ...(refused ? { refused } : {}), ...one.seen });
    if (status === 200) tell({ says: 'changed', ...one.seen });
  }

  function tell(message: object, but?: WebSocket): void {
    const text = JSON.stringify(message);
    for (const client of sockets.clients) if (client !== but && client.readyState === client.OPEN) client.send(text);
  }

  server.on('upgrade', (request, socket, head) => {
    // It may be reset at any moment, also while it is refused.
    socket.on('error', () => socket.destroy());
    const why = refusal(request) || (request.url!.slice(token.length + 1) === '/live' ? '' : 'nothing there');
    if (why) {
      socket.end(`HTTP/1.1 403 Forbidden\r\nconnection: close\r\n\r\n${why}`);
      return;
    }
    sockets.handleUpgrade(request, socket, head, (client) => {
      client.on('error', () => client.close());
      // What is dragged here moves the characters of games that are connected.
      client.on('message', (data) => {
        let message: { says?: unknown; name?: unknown; text?: unknown };
        try {
          message = JSON.parse(String(data)) as typeof message;
        } catch {
          return;
        }
        if (message?.says !== 'dragged' || typeof message.text !== 'string') return;
        const one = served.find(({ name, kind }) => name === message.name && kind === 'tuning');
        if (one) tell({ says: 'dragged', name: one.name, path: one.real, text: message.text }, client);
      });
    });
  });

  await new Promise<void>((done, fail) => {
    server.once('error', (error: NodeJS.ErrnoException) => fail(error.code === 'EADDRINUSE' ? new CallError(`port ${port} is taken; leave --port out to take a free one`) : error));
    server.listen(port, '127.0.0.1', done);
  }).catch((error: Error) => {
    watcher.close();
    throw error;
  });

  const at = (server.address() as AddressInfo).port;
  for (const host of ['127.0.0.1', 'localhost']) hosts.add(`${host}:${at}`);
  return {
    address: `http://127.0.0.1:${at}/${token}/`,
    async close() {
      watcher.close();
      for (const client of sockets.clients) client.terminate();
      await closed(server);
    },
  };
} // prettier-ignore

/** Scripts that the page may run: its own files, and what stands in it to say where the library is. */
function scriptPolicy(html: string): string {
  const inside = [...html.matchAll(/<script type="importmap">([^<]*)<\/script>/g)].map(([, text]) => text!);
  return ["'self'", ...inside.map((text) => `'sha256-${createHash('sha256').update(text).digest('base64')}'`)].join(
    ' ',
  );
}

function closed(server: Server): Promise<void> {
  return new Promise((done) => {
    server.close(() => done());
    server.closeAllConnections();
  });
}

/** Asks the system to open an address; where it cannot, it has been printed. */
function openBrowser(address: string): void {
  const [command, ...args] =
    process.platform === 'darwin' ? ['open'] : process.platform === 'win32' ? ['cmd', '/c', 'start', ''] : ['xdg-open'];
  spawn(command!, [...args, address], { stdio: 'ignore', detached: true }).on('error', () => {}).unref();
} // prettier-ignore
