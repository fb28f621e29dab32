import type { ReactNode } from 'react';
import { Button } from 'react-aria-components';
import type { Loft } from '../model/loft.js';
import { MOST_GHOSTS, short } from '../model/session.js';
import { useLoft } from './App.js';

/** Recording, replaying, and ghosts on the same keys. */
export function Take({ loft }: { loft: Loft }): ReactNode {
  useLoft(loft);
  const { session } = loft;
  const { take, ghosts, live } = session;
  const act = (what: () => unknown) => (): void => {
    what();
    loft.tell();
  };
  return (
    <div className="panel">
      <div role="group" aria-label="The take" className="set">
        {session.isRecording ? (
          <Button className="main" onPress={act(() => session.endRecording())}>
            End the recording
          </Button>
        ) : (
          <Button onPress={act(() => session.record())}>Record from the start</Button>
        )}
        <Button onPress={act(() => session.takeLast(10) ?? (loft.say = 'there is nothing to go back to yet'))}>
          Back 10 s, and take them
        </Button>
        <Button isDisabled={!take} onPress={act(() => session.replay())}>
          Play the take
        </Button>
        <Button isDisabled={!take || ghosts.length >= MOST_GHOSTS} onPress={act(() => session.pin())}>
          Keep this tuning as a ghost
        </Button>
        <Button isDisabled={!take} onPress={act(() => session.clearGhosts())}>
          Clear
        </Button>
      </div>
      <div role="group" aria-label="Write" className="set">
        <Button isDisabled={!take?.whole} onPress={() => loft.takes.saveTake()}>
          Input
        </Button>
        <Button isDisabled={!take?.whole} onPress={() => loft.takes.saveTrace()}>
          Trace
        </Button>
        <Button onPress={() => void loft.takes.saveFigure()}>Figure</Button>
        <Button onPress={() => loft.takes.savePicture()}>Picture</Button>
        <Button onPress={() => loft.takes.saveTuning()}>Tuning</Button>
        {loft.inputs.map(({ name }) => (
          <Button key={name} onPress={() => loft.takes.playInput(name)}>
            Take {name}
          </Button>
        ))}
        {loft.documents
          .filter((one) => one !== loft.document)
          .map((one) => (
            <Button
              key={one.name}
              isDisabled={!take || ghosts.length >= MOST_GHOSTS}
              onPress={act(() => session.pin(undefined, short(one.name), one.motion))}
            >
              Ghost of {short(one.name)}
            </Button>
          ))}
      </div>
      {take ? (
        <>
          <p>
            {(take.to - take.from).toFixed(2)} s of keys at {take.rate} ticks a second
            {take.whole ? ', from the start of the level: they can be saved, and played by apperin run' : ', from the middle of play'}.
          </p>
          <ul className="ghosts">
            {[...ghosts, ...(live ? [live] : [])].map((ghost, i) => {
              const end = ghost.trail.at(-1)!;
              return (
                <li key={i} data-ghost={ghost === live ? 'live' : i + 1}>
                  <span className={`swatch ${ghost === live ? 'live' : `ghost-${(i % 4) + 1}`}`} aria-hidden="true" />
                  {ghost.name}
                  {ghost === live ? ', as it is now' : ''}: ends at {end.x.toFixed(2)}, {end.y.toFixed(2)}
                  {ghost === live ? null : (
                    <Button
                      aria-label={`Take ${ghost.name} away`}
                      onPress={act(() => (session.ghosts = ghosts.filter((one) => one !== ghost)))}
                    >
                      ×
                    </Button>
                  )}
                </li>
              );
            })}
          </ul>
        </>
      ) : (
        <p>
          A take is a stretch of keys that every ghost plays again: record one, go back and take what you have just played, or take an input file. Then change numbers: the ghost of
          the present tuning follows at once.
        </p>
      )}
    </div>
  );
} // prettier-ignore
