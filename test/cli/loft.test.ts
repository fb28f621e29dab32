import { expect } from 'chai';
import { once } from 'node:events';
import { chmodSync, copyFileSync, cpSync, mkdirSync, mkdtempSync, readFileSync, renameSync, rmSync, symlinkSync, writeFileSync } from 'node:fs'; // prettier-ignore
import { execFileSync } from 'node:child_process';
import { createConnection } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { WebSocket } from 'ws';
import { DATA, apperin, serveLoft } from '../support/cli.js';
import { fully, share, shareOf } from '../support/share.js';

/** What a raw request over a socket is answered: whoever asks writes every byte. */
async function raw(address: string, lines: readonly string[], body = ''): Promise<{ status: number; text: string }> {
  const { hostname, port } = new URL(address);
  const socket = createConnection({ host: hostname, port: Number(port) });
  let text = '';
  socket.on('data', (data: Buffer) => (text += data.toString()));
  socket.on('error', () => {});
  await once(socket, 'connect');
  socket.write(`${lines.join('\r\n')}\r\nconnection: close\r\n\r\n${body}`);
  await once(socket, 'close');
  return { status: Number(/^HTTP\/1.1 (\d+)/.exec(text)?.[1]), text };
}

interface Told {
  says: string;
  name: string;
  text: string;
  bases: { text: string }[];
}

/** Waits until something is told of a change. */
function heard(live: WebSocket, is: (told: Told) => boolean): Promise<void> {
  return new Promise((done) => {
    const listen = (data: Buffer): void => {
      const told = JSON.parse(data.toString()) as Told;
      if (told.says !== 'changed' || !is(told)) return;
      live.off('message', listen);
      done();
    };
    live.on('message', listen);
  });
}

/** Opens a socket, writes, and is reset at once. */
async function cutOff(address: string, text: string): Promise<void> {
  const { hostname, port } = new URL(address);
  const socket = createConnection({ host: hostname, port: Number(port) });
  socket.on('error', () => {});
  await once(socket, 'connect');
  socket.write(text);
  socket.resetAndDestroy();
}

describe('The server of the Loft', () => {
  let folder = '';
  let address = '';
  let stop: () => Promise<number | null>;
  const hero = (): string => readFileSync(join(folder, 'hero.tuning.yaml'), 'utf8');
  const TEXT = '# The hero.\njump: { height: 3 } # tiles\n';
  const path = (): string => new URL(address).pathname;
  const host = (): string => new URL(address).host;

  before(async () => {
    folder = mkdtempSync(join(tmpdir(), 'apperin-loft-'));
    writeFileSync(join(folder, 'hero.tuning.yaml'), TEXT);
    writeFileSync(join(folder, 'other.tuning.yaml'), 'jump: { height: 2 }\n');
    writeFileSync(join(folder, 'secret.txt'), 'secret');
    copyFileSync(join(DATA, 'yard.level.yaml'), join(folder, 'yard.level.yaml'));
    ({ address, stop } = await serveLoft(['hero.tuning.yaml', 'yard.level.yaml'], folder));
  });
  after(async () => {
    expect(await stop()).to.equal(0);
    rmSync(folder, { recursive: true });
  });

  it('listens on the loopback address, with a token in the address, and serves the page and the files that were given', async () => {
    expect(address).to.match(/^http:\/\/127\.0\.0\.1:\d+\/[0-9a-f]{32}\/$/);
    const page = await fetch(address);
    expect([page.status, (await page.text()).includes('<title>The Loft</title>')]).to.deep.equal([200, true]);
    expect(page.headers.get('content-security-policy')).to.include("default-src 'self'");
    const { files } = (await (await fetch(`${address}files`)).json()) as { files: { name: string; kind: string; text: string }[] }; // prettier-ignore
    expect(files.map(({ name, kind }) => `${name} ${kind}`)).to.deep.equal(['hero.tuning.yaml tuning', 'yard.level.yaml level']); // prettier-ignore
    expect(files[0]!.text).to.equal(TEXT);
  });

  const REFUSED: Record<string, [() => string[], number]> = {
    'another origin': [() => [`GET ${path()}files HTTP/1.1`, `host: ${host()}`, 'origin: http://evil.example'], 403],
    'an origin with another port': [() => [`GET ${path()}files HTTP/1.1`, `host: ${host()}`, 'origin: http://127.0.0.1:1'], 403],
    'another host name': [() => [`GET ${path()}files HTTP/1.1`, 'host: evil.example'], 403],
    'no host name': [() => [`GET ${path()}files HTTP/1.0`], 403],
    'a missing token': [() => ['GET /files HTTP/1.1', `host: ${host()}`], 403],
    'a wrong token': [() => [`GET /${'0'.repeat(32)}/files HTTP/1.1`, `host: ${host()}`], 403],
    'a file that was not given': [() => [`GET ${path()}files/other.tuning.yaml HTTP/1.1`, `host: ${host()}`], 404],
    'a path outside': [() => [`GET ${path()}files/..%2Fsecret.txt HTTP/1.1`, `host: ${host()}`], 404],
    'a path outside, as it is': [() => [`GET ${path()}../../../../etc/passwd HTTP/1.1`, `host: ${host()}`], 404],
    'a path outside, in code': [() => [`GET ${path()}%2e%2e/%2e%2e/%2e%2e/package.json HTTP/1.1`, `host: ${host()}`], 404],
    'a broken name': [() => [`GET ${path()}files/%E0%A4%A HTTP/1.1`, `host: ${host()}`], 400],
    'another method': [() => [`DELETE ${path()}files/hero.tuning.yaml HTTP/1.1`, `host: ${host()}`], 405],
    'a file without what it was': [() => [`PUT ${path()}files/hero.tuning.yaml HTTP/1.1`, `host: ${host()}`, 'content-length: 0'], 412],
    'a live line from another origin': [() => [`GET ${path()}live HTTP/1.1`, `host: ${host()}`, 'origin: http://evil.example', 'upgrade: websocket', 'connection: upgrade', 'sec-websocket-version: 13', 'sec-websocket-key: AAAAAAAAAAAAAAAAAAAAAA=='], 403],
    'a live line without the token': [() => ['GET /live HTTP/1.1', `host: ${host()}`, 'upgrade: websocket', 'connection: upgrade', 'sec-websocket-version: 13', 'sec-websocket-key: AAAAAAAAAAAAAAAAAAAAAA=='], 403],
  }; // prettier-ignore
  for (const [what, [lines, status]] of Object.entries(REFUSED))
    it(`refuses ${what}`, async () => {
      const answer = await raw(address, lines());
      expect(answer.status, answer.text.slice(0, 400)).to.equal(status);
      expect(answer.text).not.to.include('secret').and.not.to.include('root:').and.not.to.include('devDependencies');
      expect(hero()).to.equal(TEXT);
    });

  it('refuses a body over the limit, and writes nothing', async () => {
    const body = '#'.repeat((1 << 20) + 1);
    const { status } = await raw(address, [`PUT ${path()}files/hero.tuning.yaml HTTP/1.1`, `host: ${host()}`, `content-length: ${body.length}`], body); // prettier-ignore
    expect(status).to.equal(413);
    expect(hero()).to.equal(TEXT);
  });

  it('refuses a file that has become a link to another place', async () => {
    const given = join(folder, 'hero.tuning.yaml');
    renameSync(given, join(folder, 'kept'));
    symlinkSync(join(folder, 'secret.txt'), given);
    const { mark } = ((await (await fetch(`${address}files`)).json()) as { files: { mark: string }[] }).files[0]!;
    const answer = await fetch(`${address}files/hero.tuning.yaml`, { method: 'PUT', body: 'jump: { height: 9 }\n', headers: { 'if-match': `"${mark}"` } }); // prettier-ignore
    const text = async (): Promise<string> =>
      ((await (await fetch(`${address}files/hero.tuning.yaml`)).json()) as { text: string }).text;
    try {
      expect(answer.status).to.equal(409);
      expect(readFileSync(join(folder, 'secret.txt'), 'utf8')).to.equal('secret');
      // As it was read last, or gone where that has been noticed: never what the link leads to.
      expect(await text()).to.be.oneOf([TEXT, '']);
    } finally {
      rmSync(given);
      renameSync(join(folder, 'kept'), given);
    }
    // Until it has been seen again.
    while ((await text()) !== TEXT);
  });

  it('saves what is still what it was, refuses what is not, and tells everyone who is connected', async () => {
    const live = new WebSocket(`${address.replace('http', 'ws')}live`);
    await once(live, 'open');
    const seen = (await (await fetch(`${address}files/hero.tuning.yaml`)).json()) as { mark: string };
    const put = (text: string, mark: string): Promise<Response> =>
      fetch(`${address}files/hero.tuning.yaml`, { method: 'PUT', body: text, headers: { 'if-match': `"${mark}"` } });
    const first = heard(live, ({ name, text }) => name === 'hero.tuning.yaml' && text === 'jump: { height: 4 }\n');
    expect((await put('jump: { height: 4 }\n', seen.mark)).status).to.equal(200);
    expect(hero()).to.equal('jump: { height: 4 }\n');
    await first;
    // With the mark of before: somebody else has written meanwhile.
    const second = await put('jump: { height: 5 }\n', seen.mark);
    expect(second.status).to.equal(412);
    expect(((await second.json()) as { text: string }).text).to.equal('jump: { height: 4 }\n');
    expect(hero()).to.equal('jump: { height: 4 }\n');
    // A text editor writes.
    writeFileSync(join(folder, 'hero.tuning.yaml'), TEXT);
    await heard(live, ({ name, text }) => name === 'hero.tuning.yaml' && text === TEXT);
    live.terminate();
  });

  fully('follows what a tuning comes from, which may not be there at first', async () => {
    writeFileSync(join(folder, 'child.tuning.yaml'), 'from: parent.tuning.yaml\nrun: { speed: 5 }\n');
    const child = await serveLoft(['child.tuning.yaml'], folder);
    const live = new WebSocket(`${child.address.replace('http', 'ws')}live`);
    await once(live, 'open');
    for (const text of ['jump: { height: 2 }\n', 'jump: { height: 4 }\n', 'from: hero.tuning.yaml\n']) {
      writeFileSync(join(folder, 'parent.tuning.yaml'), text);
      await heard(live, ({ name, bases }) => name === 'child.tuning.yaml' && bases[0]?.text === text);
    }
    writeFileSync(join(folder, 'hero.tuning.yaml'), `${TEXT}# once more\n`);
    await heard(live, ({ bases }) => bases[1]?.text === `${TEXT}# once more\n`);
    writeFileSync(join(folder, 'hero.tuning.yaml'), TEXT);
    live.terminate();
    expect(await child.stop()).to.equal(0);
  });

  const resets = { quick: 2, test: 25, deep: 100 };
  it(`lives on when whoever asks is cut off, at any place (${shareOf(resets, 'times each')})`, async () => {
    const upgrade = 'upgrade: websocket\r\nconnection: upgrade\r\nsec-websocket-version: 13\r\n';
    const key = 'sec-websocket-key: AAAAAAAAAAAAAAAAAAAAAA==\r\n';
    const to = `host: ${host()}\r\n`;
    const cuts = [
      `GET /live HTTP/1.1\r\n${to}${upgrade}${key}\r\n`,
      `GET ${path()}live HTTP/1.1\r\n${to}origin: http://evil.example\r\n${upgrade}${key}\r\n`,
      `GET ${path()}live HTTP/1.1\r\n${to}${upgrade}${key}\r\n`,
      `GET ${path()}live HTTP/1.1\r\n${to}${upgrade}\r\n`,
      `GET ${path()}live HTTP/1.1\r\n${to}${upgrade}${key}\r\n\u0081\u00ff`,
      `GET ${path()} HTTP/1.1\r\n${to}\r\n`,
      `GET ${path()}files HTTP/1.1\r\n${to}\r\n`,
      `PUT ${path()}files/hero.tuning.yaml HTTP/1.1\r\n${to}content-length: 1000\r\n\r\nhalf`,
      `PUT ${path()}files/hero.tuning.yaml HTTP/1.1\r\n${to}content-length: 4\r\n\r\nrun:`,
      'GET ',
      '\u0000\u0001\u0002\r\n\r\n',
    ];
    for (let i = 0; i < share(resets); i++) {
      await Promise.all(cuts.map((text) => cutOff(address, text)));
      expect((await fetch(`${address}files`)).status).to.equal(200);
    }
    expect(hero()).to.equal(TEXT);
  });

  fully('reads only files: what has become a pipe is told as such, and holds nothing up', async () => {
    writeFileSync(join(folder, 'piped.tuning.yaml'), 'from: base.tuning.yaml\n');
    writeFileSync(join(folder, 'base.tuning.yaml'), 'run: { speed: 4 }\n');
    const piped = await serveLoft(['piped.tuning.yaml'], folder);
    const live = new WebSocket(`${piped.address.replace('http', 'ws')}live`);
    await once(live, 'open');
    const become = (name: string): void => {
      rmSync(join(folder, name));
      execFileSync('mkfifo', [join(folder, name)]);
    };
    const told = heard(live, ({ name, bases }) => name === 'piped.tuning.yaml' && bases.length === 0);
    become('base.tuning.yaml');
    await told;
    const wrong = heard(live, (one) => (one as Told & { wrong?: string }).wrong === 'this is a pipe; only files are read');
    become('piped.tuning.yaml');
    await wrong;
    expect((await fetch(`${piped.address}files`)).status).to.equal(200);
    live.terminate();
    expect(await piped.stop()).to.equal(0);
    for (const args of [['check', 'piped.tuning.yaml'], ['sheet', '/dev/zero'], ['sheet', '--tuning', '/dev/zero'], ['loft', 'piped.tuning.yaml'], ['run', '--level', 'base.tuning.yaml']]) {
      const { status, err } = await apperin(args, folder);
      expect([status, /only files are read|cannot be told from its name/.test(err)], err).to.deep.equal([2, true]);
    }
    writeFileSync(join(folder, 'from.tuning.yaml'), 'from: piped.tuning.yaml\n');
    expect((await apperin(['sheet', 'from.tuning.yaml'], folder)).err).to.match(/from\.tuning\.yaml:1:7: .*only files are read/);
  }); // prettier-ignore

  fully('serves its page from a folder that is hidden and nobody else may enter', async () => {
    const hidden = join(folder, '.private', 'apperin');
    mkdirSync(hidden, { recursive: true });
    chmodSync(join(folder, '.private'), 0o700);
    cpSync(new URL('../../dist', import.meta.url), join(hidden, 'dist'), { recursive: true });
    for (const name of ['package.json', 'node_modules', 'data'])
      symlinkSync(new URL(`../../${name}`, import.meta.url), join(hidden, name));
    const loft = await serveLoft(['hero.tuning.yaml'], folder, undefined, join(hidden, 'dist/cli/main.js'));
    const page = await (await fetch(loft.address)).text();
    const script = /src="([^"]+\.js)"/.exec(page)![1]!;
    expect((await fetch(new URL(script, loft.address))).headers.get('content-type')).to.match(/^text\/javascript/);
    for (const outside of ['../package.json', '.hidden', '%2e%2e/package.json', 'assets/%00'])
      expect((await fetch(`${loft.address}${outside}`)).status).to.be.oneOf([403, 404]);
    expect(await loft.stop()).to.equal(0);
  });

  fully('opens a copy of the demo data where no files are given', async () => {
    const demo = await serveLoft([], folder);
    const { files } = (await (await fetch(`${demo.address}files`)).json()) as { files: { name: string; text: string; mark: string }[] }; // prettier-ignore
    expect(files.map(({ name }) => name)).to.deep.equal(['saltreave.level.svg', 'brindle.tuning.yaml', 'nimble.tuning.yaml']); // prettier-ignore
    const kept = readFileSync(join(DATA, 'brindle.tuning.yaml'), 'utf8');
    expect(files[1]!.text).to.equal(kept);
    const { status } = await fetch(`${demo.address}files/brindle.tuning.yaml`, { method: 'PUT', body: '{}', headers: { 'if-match': `"${files[1]!.mark}"` } }); // prettier-ignore
    expect(status).to.equal(200);
    expect(readFileSync(join(DATA, 'brindle.tuning.yaml'), 'utf8')).to.equal(kept);
    expect(await demo.stop()).to.equal(0);
  });

  it('says what is wrong with a call', async () => {
    const cases: [string[], RegExp][] = [
      [['loft', 'gone.tuning.yaml'], /gone\.tuning\.yaml/],
      [['loft', join(folder, 'secret.txt')], /the Loft opens tunings, a level/],
      [['loft', join(DATA, 'yard.level.yaml'), join(DATA, 'weir.level.yaml')], /one level at a time/],
      [['loft', join(folder, 'hero.tuning.yaml'), join(folder, 'hero.tuning.yaml')], /two files are called/],
      [['loft', '--port', '0'], /1 to 65535/],
    ];
    for (const [args, says] of cases) {
      const { status, err } = await apperin(args);
      expect(status, args.join(' ')).to.equal(2);
      expect(err).to.match(says);
    }
    const { port } = new URL(address);
    const taken = await apperin(['loft', '--port', port]);
    expect([taken.status, /port \d+ is taken/.test(taken.err)], taken.err).to.deep.equal([2, true]);
  });
});
