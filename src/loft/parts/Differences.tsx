import { compare } from 'apperin/lab';
import type { ReactNode } from 'react';
import type { Loft } from '../model/loft.js';
import { short } from '../model/session.js';
import { useLoftBeside } from './App.js';

const show = (value: unknown): string =>
  typeof value === 'number' ? String(Number(value.toPrecision(5))) : value === undefined || value === null ? '–' : Array.isArray(value) ? value.join(', ') : String(value); // prettier-ignore

/** What differs between the present tuning and each ghost, or the file on disk: keys, the end of the take, and every measure. */
export function Differences({ loft }: { loft: Loft }): ReactNode {
  useLoftBeside(loft);
  const { session, document } = loft;
  const others = session.ghosts.length > 0 ? session.ghosts.map(({ name, motion }) => ({ name, tuning: motion })) : [{ name: `${short(document.name)} on disk`, tuning: document.saved }]; // prettier-ignore
  const all = [{ name: `${short(document.name)}, now`, tuning: document.motion }, ...others];
  const { names, keys, measures } = compare(all, { rate: session.rate });
  const differing = measures.filter(({ values }) => values.some((value) => show(value) !== show(values[0])));
  const ends = session.live && session.ghosts.length > 0 ? [session.live, ...session.ghosts].map(({ trail }) => trail) : []; // prettier-ignore
  const rows: [string, string[]][] = [
    ...(ends.length > 0
      ? ([
          ['ends at, across', ends.map((trail) => show(trail.at(-1)!.x))],
          ['ends at, up or down', ends.map((trail) => show(trail.at(-1)!.y))],
          ['highest in the take', ends.map((trail) => show(highest(trail, session.level.yPoints === 'up')))],
        ] as [string, string[]][])
      : []),
    ...keys.map(({ key, values }): [string, string[]] => [key, values.map(show)]),
    ...differing.map(({ name, unit, values }): [string, string[]] => [`${name}, ${unit}`, values.map(show)]),
  ];
  return (
    <div className="panel">
      <table>
        <caption>
          {rows.length === 0
            ? 'Nothing differs.'
            : `${keys.length} keys and ${differing.length} measures differ${session.ghosts.length === 0 ? ' from the file on disk' : ''}.`}
        </caption>
        <thead>
          <tr>
            <th scope="col">what</th>
            {names.map((name, i) => (
              <th key={i} scope="col">
                {name}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {rows.map(([what, values]) => (
            <tr key={what}>
              <th scope="row">{what}</th>
              {values.map((value, i) => (
                <td key={i} className={value === values[0] ? '' : 'other'}>
                  {value}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}

function highest(trail: readonly { y: number }[], up: boolean): number {
  return trail.reduce((best, { y }) => (up ? Math.max(best, y) : Math.min(best, y)), up ? -Infinity : Infinity);
}
