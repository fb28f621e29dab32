import type { Base } from './document.js';

/** A file, as the server tells it. */
export interface ServedFile {
  name: string;
  kind: 'tuning' | 'level' | 'input' | 'keys' | 'abilities';
  bases: Base[];
  text: string;
  mark: string;
  /** Why it cannot be read now, where it cannot. */
  wrong?: string;
}

/** The mark of a file that is not there. */
export const GONE = 'gone';

/** The server that the command line starts; without one the page keeps files by itself. */
export interface Disk {
  files: ServedFile[];
  /** @returns what is on disk now; `saved` is false where somebody else has changed it meanwhile */
  save(name: string, text: string, mark: string): Promise<{ saved: boolean; file: ServedFile }>;
  /** Called with each file that has changed on disk. */
  watch(changed: (file: ServedFile) => void, gone: (away: boolean) => void): void;
  /** Tells games that are connected what is being dragged. */
  drag(name: string, text: string): void;
}

/** @returns undefined where there is no server: a page of its own */
export async function findDisk(): Promise<Disk | undefined> {
  if (!/^https?:$/.test(location.protocol)) return undefined;
  let files: ServedFile[];
  try {
    const response = await fetch('./files', { headers: { accept: 'application/json' } });
    if (!response.ok || !response.headers.get('content-type')?.includes('json')) return undefined;
    ({ files } = (await response.json()) as { files: ServedFile[] });
  } catch {
    return undefined;
  }
  let socket: WebSocket | undefined;
  return {
    files,
    async save(name, text, mark) {
      const response = await fetch(`./files/${encodeURIComponent(name)}`, { method: 'PUT', body: text, headers: { 'if-match': `"${mark}"` } });
      const said = (await response.json()) as ServedFile & { refused?: string };
      if (response.ok) return { saved: true, file: said };
      if (response.status === 412) return { saved: false, file: said };
      throw new Error(said.refused ?? `the server says ${response.status}`);
    },
    watch(changed, gone) {
      const connect = (): void => {
        const address = new URL('./live', location.href);
        address.protocol = address.protocol.replace('http', 'ws');
        socket = new WebSocket(address);
        socket.onopen = () => gone(false);
        socket.onmessage = ({ data }) => {
          const message = JSON.parse(String(data)) as ServedFile & { says: string };
          if (message.says === 'changed') changed(message);
        };
        socket.onclose = () => {
          gone(true);
          setTimeout(connect, 1000);
        };
      };
      connect();
    },
    drag(name, text) {
      if (socket?.readyState === WebSocket.OPEN) socket.send(JSON.stringify({ says: 'dragged', name, text }));
    },
  };
} // prettier-ignore
