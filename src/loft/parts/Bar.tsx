import { useEffect, useRef, type ReactNode } from 'react';
import { Button, ToggleButton } from 'react-aria-components';
import type { Loft } from '../model/loft.js';
import { Choice } from './Choice.js';
import { useLoft } from './App.js';

const RATES = [15, 30, 60, 90, 120, 144, 240];
const SPEEDS: readonly [string, number][] = [['1', 1], ['1/2', 0.5], ['1/4', 0.25], ['1/10', 0.1]]; // prettier-ignore

const seconds = (): number => performance.now() / 1000;

/** Play and pause, ticks, going back, speed, rate, undo, save. */
export function Bar({ loft }: { loft: Loft }): ReactNode {
  useLoft(loft, () => {
    const { session, document, disk } = loft;
    const { paused, speed } = session.steps;
    return [paused, speed, session.rate, document.canUndo, document.canRedo, document.dirty, loft.theme, disk !== undefined].join('|');
  }); // prettier-ignore
  const { session, document } = loft;
  const { steps } = session;
  const say = useRef<HTMLOutputElement>(null);
  useEffect(
    () =>
      loft.onFrame(() => {
        const { hero, stage, isRecording } = loft.session;
        const pose = hero.view(1).pose;
        const text = `${isRecording ? 'recording ' : ''}${stage.time.toFixed(2)} s · ${pose} · ${hero.support}`;
        if (say.current && say.current.textContent !== text) say.current.textContent = text;
      }),
    [loft],
  );
  const act = (what: () => void) => (): void => {
    what();
    loft.tell();
  };
  return (
    <header className="bar">
      <h1>The Loft</h1>
      <div role="group" aria-label="Play" className="set">
        <ToggleButton
          isSelected={steps.paused}
          onChange={act(() => {
            session.looking = undefined;
            session.steps.paused = !session.steps.paused;
          })}
        >
          {steps.paused ? 'Go on' : 'Pause'}
        </ToggleButton>
        <Button onPress={act(() => session.step(-1, seconds()))}>Tick back</Button>
        <Button onPress={act(() => session.step(1, seconds()))}>Tick on</Button>
        <Button onPress={act(() => session.back(1))}>1 s back</Button>
        <Button onPress={act(() => session.restart())}>Begin anew</Button>
      </div>
      <Choice
        label="Speed"
        value={String(steps.speed)}
        options={SPEEDS.map(([name, value]) => [String(value), `${name}×`])}
        onChange={(value) => act(() => (session.steps.speed = Number(value)))()}
      />
      <Choice
        label="Ticks/s"
        value={String(session.rate)}
        options={RATES.map((rate) => [String(rate), String(rate)])}
        onChange={(value) => act(() => session.restart(Number(value)))()}
      />
      <output ref={say} className="now" aria-live="off" />
      <span className="spring" />
      <div role="group" aria-label="The tuning's file" className="set">
        <Button isDisabled={!document.canUndo} onPress={() => loft.undo()}>
          Undo
        </Button>
        <Button isDisabled={!document.canRedo} onPress={() => loft.redo()}>
          Redo
        </Button>
        <Button isDisabled={!document.dirty} onPress={() => void loft.files.save()} className="main">
          {loft.disk ? 'Save' : 'Download'}
        </Button>
      </div>
      <ToggleButton isSelected={loft.theme === 'dark'} onChange={(dark) => loft.setTheme(dark ? 'dark' : 'light')}>
        Dark
      </ToggleButton>
    </header>
  );
}
