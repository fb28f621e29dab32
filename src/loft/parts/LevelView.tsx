import { useEffect, useRef, type ReactNode } from 'react';
import { Button, ToggleButton } from 'react-aria-components';
import type { Loft } from '../model/loft.js';
import { OVERLAYS, type Overlay } from '../model/session.js';
import { useLoft } from './App.js';
import { Handles } from './Handles.js';
import { usePointer } from './pointer.js';
import { MovingBar, Pieces } from './Pieces.js';
import { Tight } from './Tight.js';

/** The level, to play in: dragged to move, the wheel to come nearer; what is drawn over it. */
export function LevelView({ loft }: { loft: Loft }): ReactNode {
  useLoft(
    loft,
    () =>
      `${[...loft.session.overlays].join()}|${loft.shown?.what ?? ''}|${loft.levelName}|${loft.asking.said}|${typeof loft.asking.tight === 'object' ? `${loft.asking.tight.by.join()} ${loft.asking.tight.held.join()}` : loft.asking.tight}|${loft.say}|${loft.away}|${loft.moving.version}|${loft.level.canUndo}|${loft.level.dirty}|${loft.level.theirs !== undefined}|${loft.moving.beside !== undefined}`,
  );
  const canvas = useRef<HTMLCanvasElement>(null);
  const pads = useRef<HTMLDivElement>(null);
  const { camera, session, shown, moving } = loft;
  const { giveBack, ...pointer } = usePointer(loft);
  useEffect(() => loft.setCanvas(canvas.current!), [loft]);
  useEffect(() => loft.takeFingers(pads.current!), [loft]);
  useEffect(() => {
    const element = canvas.current!;
    const wheel = (event: WheelEvent): void => {
      event.preventDefault();
      const box = element.getBoundingClientRect();
      camera.zoom(Math.exp(-event.deltaY * 0.0015), event.clientX - box.left, event.clientY - box.top);
    };
    element.addEventListener('wheel', wheel, { passive: false });
    return () => element.removeEventListener('wheel', wheel);
  }, [camera]);
  const whole = (): void => {
    const { x, y, width, height } = session.level.extent;
    camera.show(x, y, x + width, y + height);
    loft.tell();
  };
  return (
    <>
      <canvas
        ref={canvas}
        tabIndex={0}
        role="img"
        aria-label={`${loft.levelName}, with the character in it. Play with the arrow keys and the space bar; plus, minus and 0 for nearer, farther and back to the character.`}
        {...pointer}
        onDragOver={(event) => event.preventDefault()}
        onDrop={(event) => {
          event.preventDefault();
          for (const file of event.dataTransfer.files) void loft.files.openFile(file);
        }}
        onKeyDown={(event) => {
          if (event.key === 'Escape') giveBack();
          else if (event.key === '+' || event.key === '=') camera.zoom(1.25);
          else if (event.key === '-') camera.zoom(0.8);
          else if (event.key === '0') loft.look();
        }}
      />
      <div className="over" role="group" aria-label="Shown over the level">
        {(Object.keys(OVERLAYS) as Overlay[]).map((name) => (
          <ToggleButton key={name} isSelected={session.overlays.has(name)} onChange={(on) => loft.overlay(name, on)}>
            {OVERLAYS[name]}
          </ToggleButton>
        ))}
      </div>
      {moving.isOn ? <MovingBar loft={loft} /> : null}
      <Pieces loft={loft} />
      <div className="near" role="group" aria-label="What is seen, and moved">
        <ToggleButton isSelected={moving.isOn} onChange={(on) => moving.turn(on)}>
          move the level
        </ToggleButton>
        <Button onPress={() => camera.zoom(1.25)} aria-label="Nearer">
          +
        </Button>
        <Button onPress={() => camera.zoom(0.8)} aria-label="Farther">
          −
        </Button>
        <Button onPress={whole}>all</Button>
        <Button onPress={() => loft.look()}>me</Button>
      </div>
      <div className="handles" role="group" aria-label="The jump, to be dragged">
        <Handles loft={loft} />
      </div>
      <p className="say" role="status">
        {loft.away ? 'the server is gone: nothing can be saved until it is back' : loft.say}
      </p>
      {session.overlays.has('survey') ? (
        <p className="what" role="status">
          {loft.asking.said}
        </p>
      ) : null}
      {session.overlays.has('survey') ? <Tight asking={loft.asking} /> : null}
      {!session.overlays.has('survey') && shown && shown.what !== '' ? <p className="what">{shown.what}</p> : null}
      <div ref={pads} className="fingers" hidden={!matchMedia('(pointer: coarse)').matches}>
        <div data-finger="stick" className="stick" aria-hidden="true" />
        <div className="taps" aria-hidden="true">
          {loft.own.actions.map((name) => (
            <div key={name} data-finger={name}>
              {name}
            </div>
          ))}
          <div data-finger="glide">glide</div>
          <div data-finger="down">down</div>
          <div data-finger="jump">jump</div>
        </div>
      </div>
    </>
  );
}
