import { execFileSync, spawn, type ChildProcess } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { createServer } from 'node:net';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { Redis } from 'ioredis';

/** A Redis server of a test's own, on a free port of the loopback address, that keeps what it is told on disk. */
export class RedisServer {
  private child: ChildProcess | undefined;
  private readonly folder = mkdtempSync(join(tmpdir(), 'apperin-redis-'));

  private constructor(
    readonly port: number,
    private readonly password: string,
    /** The certificate of one that is reached by TLS alone, and its key. */
    private readonly tls?: { certificate: string; key: string },
  ) {}

  /** @throws where there is no `redis-server`: Debian's package of that name has it */
  static async start(password = '', isTls = false): Promise<RedisServer> {
    const port = await new Promise<number>((done) => {
      const server = createServer().listen(0, '127.0.0.1', () => {
        const { port } = server.address() as { port: number };
        server.close(() => done(port));
      });
    });
    const redis = new RedisServer(port, password, isTls ? certified() : undefined);
    await redis.run();
    return redis;
  }

  /** What a client has to trust. */
  get certificate(): string {
    return this.tls!.certificate;
  }

  get url(): string {
    return `${this.tls ? 'rediss' : 'redis'}://${this.password === '' ? '' : `:${this.password}@`}127.0.0.1:${this.port}`;
  }

  client(): Redis {
    return new Redis({ host: '127.0.0.1', port: this.port, ...(this.password === '' ? {} : { password: this.password }), maxRetriesPerRequest: null });
  } // prettier-ignore

  /** Starts it, with what it kept. */
  async run(): Promise<void> {
    const ports = this.tls ? ['--port', '0', '--tls-port', String(this.port), '--tls-cert-file', this.tls.certificate, '--tls-key-file', this.tls.key, '--tls-auth-clients', 'no'] : ['--port', String(this.port)];
    const words = [...ports, '--bind', '127.0.0.1', '--dir', this.folder, '--save', '', '--appendonly', 'yes'];
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
    if (this.tls) rmSync(dirname(this.tls.key), { recursive: true });
  }
}

/** A certificate for the loopback address, which is made for the occasion. */
function certified(): { certificate: string; key: string } {
  const folder = mkdtempSync(join(tmpdir(), 'apperin-tls-'));
  const [certificate, key] = [join(folder, 'certificate.pem'), join(folder, 'key.pem')];
  execFileSync('openssl', ['req', '-x509', '-newkey', 'ec', '-pkeyopt', 'ec_paramgen_curve:prime256v1', '-nodes', '-days', '2', '-subj', '/CN=127.0.0.1', '-addext', 'subjectAltName=IP:127.0.0.1', '-keyout', key, '-out', certificate], { stdio: 'ignore' });
  return { certificate, key };
} // prettier-ignore
