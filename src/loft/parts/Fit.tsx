import type { ReactNode } from 'react';
import { Button, Input, Label, NumberField, ToggleButton } from 'react-aria-components';
import type { Loft } from '../model/loft.js';
import { nameOf } from '../model/names.js';
import { useLoft } from './App.js';
import { wordOf } from './words.js';

/** The numbers of a motion that was captured, or of a jump that was drawn: each to take or to leave. */
export function Fit({ loft }: { loft: Loft }): ReactNode {
  useLoft(loft);
  const { fitting } = loft;
  const { capture, numbers, cannotTell, what, wrong, isLooking, rms } = fitting;
  return (
    <div className="panel">
      <div role="group" aria-label="The motion" className="set">
        <ToggleButton isSelected={fitting.isSketching} onChange={(on) => fitting.turnSketching(on)}>
          Draw a jump over the level
        </ToggleButton>
        {capture ? (
          <NumberField className="scale" value={capture.scale} minValue={0.001} onChange={(value) => fitting.setScale(value)}>
            <Label>Its lengths in a unit</Label>
            <Input />
          </NumberField>
        ) : null}
        <Button isDisabled={numbers.length === 0} className="main" onPress={() => fitting.take()}>
          Take all
        </Button>
        <Button isDisabled={what === ''} onPress={() => fitting.forget()}>
          Forget it
        </Button>
      </div>
      {what === '' ? (
        <p>Drop a capture onto the level, a table of places over time as CSV, or draw the jump that you want: from the takeoff on, up, and down again. Its numbers are found beside those that you have.</p>
      ) : (
        <p role="status">
          {what}
          {isLooking ? ': looking for its numbers…' : wrong !== '' ? `: ${wrong}` : `: met to ${Number(rms.toFixed(3))} units (root of the mean square)`}
        </p>
      )}
      {numbers.length > 0 ? (
        <table aria-label="What was found">
          <thead>
            <tr>
              <th scope="col">number</th>
              <th scope="col">now</th>
              <th scope="col">found</th>
              <th scope="col">±</th>
              <th scope="col">take</th>
            </tr>
          </thead>
          <tbody>
            {numbers.map(({ key, value, within, loose }) => (
              <tr key={key} data-found={key}>
                <th scope="row">{nameOf(key)}</th>
                <td>{wordOf(rounded(fitting.now(key)))}</td>
                <td className="other">{wordOf(rounded(value))}</td>
                <td>{within === undefined ? '' : `${Number(within.toPrecision(2))}${loose ? ', loose' : ''}`}</td>
                <td>
                  <Button aria-label={`Take ${nameOf(key)}`} isDisabled={wordOf(fitting.now(key)) === wordOf(value)} onPress={() => fitting.take(key)}>
                    take
                  </Button>
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      ) : null}
      {cannotTell.length > 0 && !isLooking ? <p>Not told by it: {cannotTell.join('; ')}.</p> : null}
    </div>
  );
} // prettier-ignore

/** A number as it is read. */
const rounded = (value: unknown): unknown => (typeof value === 'number' ? Number(value.toPrecision(4)) : value);
