import { useRef, type PointerEvent } from 'react';
import type { Loft } from '../model/loft.js';

/** A press that has gone no farther is a click, pixels. */
const CLICK = 4;

/** What is done with what is under the pointer while it is down. */
type Doing = 'sees' | 'moves' | 'sketches' | undefined;

/** What a pointer does over the level: draws a jump, moves a piece, else what is seen; a click asks of a place. */
export function usePointer(loft: Loft): {
  onPointerDown: (event: PointerEvent<HTMLElement>) => void;
  onPointerMove: (event: PointerEvent<HTMLElement>) => void;
  onPointerUp: (event: PointerEvent<HTMLElement>) => void;
  onPointerCancel: () => void;
  /** A drag is given back. */
  giveBack: () => void;
} {
  const doing = useRef<Doing>(undefined);
  const from = useRef<readonly [number, number]>([NaN, NaN]);
  const { camera, moving, fitting } = loft;
  const at = (event: PointerEvent<HTMLElement>): [number, number] => {
    const { left, top } = event.currentTarget.getBoundingClientRect();
    return [event.clientX - left, event.clientY - top];
  };
  return {
    onPointerDown(event) {
      event.currentTarget.focus();
      event.currentTarget.setPointerCapture(event.pointerId);
      from.current = at(event);
      doing.current = fitting.isSketching ? 'sketches' : moving.isOn && moving.hold(...from.current) ? 'moves' : 'sees';
      if (doing.current === 'sketches') fitting.draw(...camera.under(...from.current), true);
    },
    onPointerMove(event) {
      const [x, y] = at(event);
      const [px, py] = from.current;
      if (doing.current === 'sketches') fitting.draw(...camera.under(x, y), false);
      else if (doing.current === 'moves')
        moving.drag((x - px) / camera.scale, ((y - py) / camera.scale) * camera.down, event.shiftKey); // prettier-ignore
      else if (doing.current === 'sees') camera.pan(event.movementX, event.movementY);
      else if (moving.isOn) moving.look(x, y);
    },
    onPointerUp(event) {
      const [x, y] = at(event);
      const [px, py] = from.current;
      const was = doing.current;
      doing.current = undefined;
      if (was === 'sketches') fitting.drawn();
      else if (was === 'moves') moving.letGo();
      else if (Math.abs(x - px) + Math.abs(y - py) < CLICK) loft.pointAt(px, py);
    },
    onPointerCancel() {
      if (doing.current === 'moves') moving.letGo();
      doing.current = undefined;
    },
    giveBack() {
      if (doing.current === 'moves') moving.giveBack();
      else if (doing.current === 'sketches') fitting.forget();
      doing.current = undefined;
    },
  };
}
