import brindle from '../../../data/tide-mill/brindle.tuning.yaml?raw';
import nimble from '../../../data/tide-mill/nimble.tuning.yaml?raw';
import mill from '../../../data/tide-mill/saltreave.level.svg?raw';
import type { ServedFile } from './server.js';

/** What is opened where nothing else is. */
export const DEMO: ServedFile[] = [
  { name: 'saltreave.level.svg', kind: 'level', bases: [], text: mill, mark: '' },
  { name: 'brindle.tuning.yaml', kind: 'tuning', bases: [], text: brindle, mark: '' },
  { name: 'nimble.tuning.yaml', kind: 'tuning', bases: [{ name: './brindle.tuning.yaml', from: 'nimble.tuning.yaml', file: 'brindle.tuning.yaml', text: brindle }], text: nimble, mark: '' },
]; // prettier-ignore

const STORED = 'apperin-loft';

/** Has the browser save a file. */
export function download(name: string, content: string | Blob, type: string): void {
  const link = document.createElement('a');
  link.href = URL.createObjectURL(new Blob([content], { type }));
  link.download = name;
  link.click();
  setTimeout(() => URL.revokeObjectURL(link.href), 10_000);
}

/** Without a server, the browser's storage keeps what was done. @returns whether it did: it may be full or forbidden */
export function keep({
  name,
  text,
  kind = 'tuning',
}: {
  name: string;
  text: string;
  kind?: 'tuning' | 'level';
}): boolean {
  try {
    const others = kept().filter((one) => one.name !== name);
    localStorage.setItem(STORED, JSON.stringify([...others, { name, text, kind }]));
    return true;
  } catch {
    return false;
  }
}

/** What was kept. */
export function kept(): ServedFile[] {
  try {
    const found = JSON.parse(localStorage.getItem(STORED) ?? '[]') as { name: string; text: string; kind: 'tuning' | 'level' }[];
    return found.map((one) => ({ ...one, bases: DEMO.find(({ name }) => name === one.name)?.bases ?? [], mark: '' }));
  } catch {
    return [];
  }
} // prettier-ignore
