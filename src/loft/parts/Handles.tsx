import { useEffect, useRef, useState, type ReactNode } from 'react';
import { HANDLES, type HandleName } from '../model/handles.js';
import type { Loft } from '../model/loft.js';
import { useLoft } from './App.js';

/** So far a key moves a handle, units of a tile; with Shift a tenth of it. */
const BY_KEY = 0.1;
const ARROWS: Readonly<Record<string, readonly [number, number]>> = { ArrowUp: [0, 1], ArrowDown: [0, -1], ArrowLeft: [-1, 0], ArrowRight: [1, 0] }; // prettier-ignore

/** What of the prediction can be taken hold of: each handle is a number of the tuning. */
export function Handles({ loft }: { loft: Loft }): ReactNode {
  useLoft(loft, () => loft.ahead.handles.map(({ name, value }) => `${name} ${value}`).join('|'));
  return (
    <>
      {HANDLES.map((name) => (
        <OneHandle key={name} loft={loft} name={name} />
      ))}
    </>
  );
}

function OneHandle({ loft, name }: { loft: Loft; name: HandleName }): ReactNode {
  const button = useRef<HTMLButtonElement>(null);
  const from = useRef<{ x: number; y: number } | undefined>(undefined);
  const [held, setHeld] = useState(false);
  const handle = loft.ahead.handles.find((one) => one.name === name);
  useEffect(
    () =>
      loft.onFrame(() => {
        const element = button.current;
        const now = loft.ahead.handles.find((one) => one.name === name);
        if (!element || !now) return;
        const [x, y] = loft.camera.at(now.at.x, now.at.y);
        const place = `translate(${x.toFixed(1)}px, ${y.toFixed(1)}px)`;
        if (element.style.transform !== place) element.style.transform = place;
      }),
    [loft, name],
  );
  if (!handle) return null;
  const end = (): void => {
    from.current = undefined;
    setHeld(false);
    loft.ahead.letGo();
  };
  return (
    <button
      ref={button}
      type="button"
      className={`handle ${name}${held ? ' held' : ''}`}
      data-handle={name}
      aria-label={`${handle.label}. ${handle.value}`}
      onPointerDown={(event) => {
        event.stopPropagation();
        button.current!.setPointerCapture(event.pointerId);
        from.current = { x: event.clientX, y: event.clientY };
        setHeld(true);
        loft.ahead.hold(name);
      }}
      onPointerMove={(event) => {
        if (!from.current) return;
        const { scale } = loft.camera;
        loft.ahead.drag(name, (event.clientX - from.current.x) / scale, (from.current.y - event.clientY) / scale, { free: event.shiftKey, speed: event.altKey });
      }}
      onPointerUp={end}
      onPointerCancel={end}
      onFocus={() => loft.touch(handle.key)}
      onBlur={() => loft.touch(undefined)}
      onKeyDown={(event) => {
        if (event.key === 'Escape' && from.current) {
          loft.ahead.giveBack();
          return end();
        }
        const way = ARROWS[event.key];
        if (!way) return;
        event.preventDefault();
        event.stopPropagation();
        const by = loft.document.motion.full.tile * BY_KEY * (event.shiftKey ? 0.1 : 1);
        loft.ahead.nudge(name, way[0] * by, way[1] * by, { free: event.shiftKey, speed: event.altKey });
      }}
    >
      <span className="grip" aria-hidden="true" />
      <span className="at" aria-hidden="true">
        {handle.value}
      </span>
    </button>
  );
} // prettier-ignore
