import { isIP } from 'node:net';
import { FOUND_LIMITS } from 'apperin/files';
import { SEARCH_LIMITS } from 'apperin/lab';
import { CallError } from './exit.js';
import { sha256 } from './planned.js';
import type { RowDoing } from './rows-done.js';

/** What a search and its workers tell each other by a Redis server. Everything that comes is data, and looked at before it is used. */

/** Where the server is, and how it is called in messages: without name and password. */
export interface Address {
  connection: Connection;
  shown: string;
}

/** How it is connected to. */
export interface Connection {
  host: string;
  port: number;
  db: number;
  username?: string;
  password?: string;
  tls?: { servername?: string };
  maxRetriesPerRequest: null;
}

/** @throws CallError where it is no such URL; what it says has no password in it */
export function addressOf(text: string): Address {
  const wrong = (): never => {
    throw new CallError('--queue: it must be the URL of a Redis server: redis://host:6379, or rediss://host:6379 with TLS');
  };
  if (!URL.canParse(text)) return wrong();
  const url = new URL(text);
  if ((url.protocol !== 'redis:' && url.protocol !== 'rediss:') || url.hostname === '') return wrong();
  const port = url.port === '' ? 6379 : Number(url.port);
  const db = url.pathname.length > 1 ? Number(url.pathname.slice(1)) : 0;
  if (!Number.isInteger(db) || db < 0) return wrong();
  const host = url.hostname.replace(/^\[|\]$/g, '');
  return {
    connection: {
      host,
      port,
      db,
      ...(url.username === '' ? {} : { username: decodeURIComponent(url.username) }),
      ...(url.password === '' ? {} : { password: decodeURIComponent(url.password) }),
      ...(url.protocol === 'rediss:' ? { tls: isIP(host) === 0 ? { servername: host } : {} } : {}),
      maxRetriesPerRequest: null,
    },
    shown: `${url.protocol}//${url.hostname}:${port}${db === 0 ? '' : `/${db}`}`,
  };
} // prettier-ignore

/** The packages that a queue takes: they come with it, not with the tools. */
export async function queuePackages(): Promise<{
  bullmq: typeof import('bullmq');
  Redis: typeof import('ioredis').Redis;
}> {
  try {
    const [bullmq, { Redis }] = await Promise.all([import('bullmq'), import('ioredis')]);
    return { bullmq, Redis };
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code !== 'ERR_MODULE_NOT_FOUND') throw error;
    throw new CallError('--queue takes two packages that are not installed: npm install --save-dev bullmq ioredis');
  }
}

/** Names: those of another build are others, so that its workers never meet them. */
export const namesOf = (build: string): { plans: string; plan: (hash: string) => string; file: (hash: string) => string; starts: (hash: string) => string; queue: (hash: string) => string } => {
  const of = sha256(build).slice(0, 12);
  return {
    /** The set of plans that are being searched. */
    plans: `apperin-search-${of}-plans`,
    plan: (hash) => `apperin-search-${of}-plan-${hash}`,
    file: (hash) => `apperin-search-${of}-file-${hash}`,
    /** How often each row was begun by a worker that has not said that it ended. */
    starts: (hash) => `apperin-search-${of}-starts-${hash}`,
    queue: (hash) => `apperin-search-${of}-${hash.slice(0, 24)}`,
  };
}; // prettier-ignore

/** A row to be done: the data of a job. */
export interface RowAsked {
  version: 1;
  plan: string;
  row: number;
}

/** The most characters of a job's data. */
const MOST_ASKED = 512;

/** @throws RangeError with what is wrong with what came */
export function askedOf(data: unknown, plan: string, rows: number): RowAsked {
  const text = JSON.stringify(data) ?? '';
  if (text.length > MOST_ASKED) throw new RangeError(`it has ${text.length} characters; at most ${MOST_ASKED} are read`);
  if (typeof data !== 'object' || data === null || Array.isArray(data)) throw new RangeError('it is no group of version, plan and row');
  const keys = Object.keys(data);
  const { version, plan: of, row } = data as Record<string, unknown>;
  const extra = keys.find((key) => !['version', 'plan', 'row'].includes(key));
  if (extra !== undefined) throw new RangeError('it has more than version, plan and row');
  if (version !== 1) throw new RangeError('its version is not 1');
  if (of !== plan) throw new RangeError('it is of another plan than its queue');
  if (!(typeof row === 'number' && Number.isInteger(row) && row >= 0 && row < Math.min(rows, SEARCH_LIMITS.rows))) throw new RangeError(`its row must be a whole number of 0 to ${rows - 1}`);
  return { version: 1, plan, row };
} // prettier-ignore

/** How far a row has come, as its worker says; nothing where that is no such thing. */
export function doingOf(data: unknown, row: number): RowDoing | undefined {
  if (typeof data !== 'object' || data === null) return undefined;
  const { done, of, events } = data as Record<string, unknown>;
  const isCount = (value: unknown): value is number => typeof value === 'number' && Number.isSafeInteger(value) && value >= 0;
  return isCount(done) && isCount(of) && isCount(events) && done <= of ? { row, done, of, events } : undefined;
} // prettier-ignore

/** A text that lies under its hash. @throws RangeError where it is too long, is not there, or is not what the hash says */
export function hashed(text: string | null, hash: string, most: number = FOUND_LIMITS.plan): string {
  if (text === null) throw new RangeError('it is not there');
  if (text.length > most) throw new RangeError(`it has ${text.length} characters; at most ${most} are read`);
  if (sha256(text) !== hash) throw new RangeError('it is not what its hash says');
  return text;
}

/** So many workers may be lost over a row before it is left. */
export const MOST_LOST = 3;
