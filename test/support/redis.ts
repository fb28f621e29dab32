import { spawn, type ChildProcess } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { createServer } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Redis } from 'ioredis';

/** A Redis server of a test's own, on a free port of the loopback address, that keeps what it is told on disk. */
export class RedisServer {
  private child: ChildProcess | undefined;
  private readonly folder = mkdtempSync(join(tmpdir(), 'apperin-redis-'));

  private constructor(
    readonly port: number,
    private readonly password: string,
  ) {}

  /** @throws where there is no `redis-server`: Debian's package of that name has it */
  static async start(password = ''): Promise<RedisServer> {
    const port = await new Promise<number>((done) => {
      const server = createServer().listen(0, '127.0.0.1', () => {
        const { port } = server.address() as { port: number };
        server.close(() => done(port));
      });
    });
    const redis = new RedisServer(port, password);
    await redis.run();
    return redis;
  }

  get url(): string {
    return `redis://${this.password === '' ? '' : `:${this.password}@`}127.0.0.1:${this.port}`;
  }

  client(): Redis {
    return new Redis({ host: '127.0.0.1', port: this.port, ...(this.password === '' ? {} : { password: this.password }), maxRetriesPerRequest: null });
  } // prettier-ignore

  /** Starts it, with what it kept. */
  async run(): Promise<void> {
    const words = ['--port', String(this.port), '--bind', '127.0.0.1', '--dir', this.folder, '--save', '', '--appendonly', 'yes'];
    const child = spawn('redis-server', [...words, ...(this.password === '' ? [] : ['--requirepass', this.password])], { stdio: ['ignore', 'pipe', 'inherit'] });
    this.child = child;
    process.once('exit', this.kill);
    await new Promise<void>((done, fail) => {
      child.on('error', (error) => fail(new Error(`the tests of the queue need redis-server (Debian: apt-get install redis-server): ${error.message}`)));
      child.stdout.on('data', (text: Buffer) => {
        if (text.toString().includes('Ready to accept connections')) done();
      });
    });
  } // prettier-ignore

  readonly kill = (): void => void this.child?.kill('SIGKILL');

  /** Ends it, at once or in order. */
  async end(signal: 'SIGKILL' | 'SIGTERM' = 'SIGTERM'): Promise<void> {
    const ended = new Promise((done) => this.child!.once('exit', done));
    this.child!.kill(signal);
    await ended;
    process.off('exit', this.kill);
  }

  async stop(): Promise<void> {
    await this.end();
    rmSync(this.folder, { recursive: true });
  }
}
