import type { ReactNode } from 'react';
import { Button } from 'react-aria-components';
import type { Loft } from '../model/loft.js';
import { useLoft } from './App.js';
import { wordOf } from './words.js';

/** What did I change, against the file on disk? */
export function Changes({ loft }: { loft: Loft }): ReactNode {
  useLoft(loft);
  const { document } = loft;
  const changes = document.changes();
  return (
    <div className="panel">
      <div className="set">
        <Button isDisabled={changes.length === 0} onPress={() => loft.resetAll()}>
          All as in the file
        </Button>
      </div>
      <table>
        <caption>
          {changes.length === 0
            ? `Nothing: ${document.name} is as it was ${loft.disk ? 'on disk' : 'opened'}.`
            : `${changes.length} ${changes.length === 1 ? 'number' : 'numbers'} of ${document.name}.`}
        </caption>
        {changes.length === 0 ? null : (
          <thead>
            <tr>
              <th scope="col">key</th>
              <th scope="col">was</th>
              <th scope="col">is</th>
              <th scope="col">back</th>
            </tr>
          </thead>
        )}
        <tbody>
          {changes.map(({ key, was, is }) => (
            <tr key={key}>
              <th scope="row">{key}</th>
              <td>{wordOf(was)}</td>
              <td>{wordOf(is)}</td>
              <td>
                <Button aria-label={`${key} back to ${wordOf(was)}`} onPress={() => loft.reset(key)}>
                  ↺
                </Button>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}
