import { MEANINGS } from 'apperin';
import { sheet, type Measure } from 'apperin/lab';
import { useEffect, useState, type ReactNode } from 'react';
import type { Loft } from '../model/loft.js';
import { nameOf } from '../model/names.js';
import { useLoft } from './App.js';

/** So long after the last change measures are looked at, ms. */
const STILL = 120;
/** So many are told. */
const MOST = 4;

/** What the touched number means, and what it has changed. */
export function Told({ loft }: { loft: Loft }): ReactNode {
  useLoft(loft, () => loft.touched?.key ?? '');
  const [effects, setEffects] = useState<readonly string[]>([]);
  const key = loft.touched?.key;
  useEffect(() => {
    let waits: ReturnType<typeof setTimeout> | undefined;
    let known: unknown;
    const look = (): void => {
      const { document, touched } = loft;
      if (!touched || known === document.motion) return;
      known = document.motion;
      clearTimeout(waits);
      waits = setTimeout(() => setEffects(changesOf(sheet(document.saved), sheet(document.motion))), STILL);
    };
    setEffects([]);
    look();
    const stop = loft.subscribe(look);
    return () => {
      clearTimeout(waits);
      stop();
    };
  }, [loft, key]);
  return (
    <footer className="told" aria-label="The number that is touched">
      {key === undefined ? (
        <p>Touch a number: what it means, and what it does to the measures, is told here.</p>
      ) : (
        <>
          <p>
            <strong>{nameOf(key)}</strong> <code>{key}</code>
          </p>
          <p>{MEANINGS[key]}</p>
          <p className="effects">{effects.join(', ')}</p>
        </>
      )}
    </footer>
  );
}

const say = (value: number): string => String(Number(value.toPrecision(3)));

/** The first measures that differ from the file's, as it was and as it is. */
function changesOf(before: readonly Measure[], after: readonly Measure[]): string[] {
  const was = new Map(before.map(({ id, value }) => [id, value]));
  return after.filter(({ id, value }) => Number.isFinite(value) && Number.isFinite(was.get(id)) && say(was.get(id)!) !== say(value)).slice(0, MOST).map(({ id, name, value }) => `${name} ${say(was.get(id)!)} → ${say(value)}`);
} // prettier-ignore
