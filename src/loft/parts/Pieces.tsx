import { useEffect, useRef, type ReactNode } from 'react';
import { Button, Dialog, Heading, Modal, ModalOverlay } from 'react-aria-components';
import type { Loft } from '../model/loft.js';
import { ADDED, wordsOf } from '../model/moving.js';
import { useLoft } from './App.js';

/** So far a key moves a piece, tiles; with Shift so far. */
const BY_KEY = 0.1;
const FINE = 0.01;
/** So many pieces can be gone through with the keyboard. */
const MOST = 200;

/** What is done with the level while it is being moved. */
export function MovingBar({ loft }: { loft: Loft }): ReactNode {
  const { moving, level } = loft;
  const { touched } = moving;
  return (
    <div className="moving" role="group" aria-label="The level, to be moved">
      <span className="what-piece" role="status">{moving.said}</span>
      <div className="set">
        <span>Add a</span>
        {ADDED.map((what) => <Button key={what} aria-label={`Add a ${what}`} onPress={() => moving.add(what)}>{what}</Button>)}
      </div>
      <div className="set">
        <span>Until just reached</span>
        <Button isDisabled={!touched || moving.isLooking} aria-label="Farther, until just reached" onPress={() => moving.untilReached('farther')}>farther</Button>
        <Button isDisabled={!touched || moving.isLooking} aria-label="Higher, until just reached" onPress={() => moving.untilReached('higher')}>higher</Button>
      </div>
      <div className="set">
        <Button isDisabled={!touched} onPress={() => moving.remove()}>Take it away</Button>
        <Button isDisabled={!level.canUndo} aria-label="Undo in the level" onPress={() => moving.undo()}>Undo</Button>
        <Button isDisabled={!level.canRedo} aria-label="Redo in the level" onPress={() => moving.redo()}>Redo</Button>
        <Button isDisabled={!level.dirty} className="main" onPress={() => void loft.files.saveLevel()}>{loft.disk ? 'Save the level' : 'Download the level'}</Button>
      </div>
      {level.theirs ? (
        <div className="set">
          <Button onPress={() => loft.files.decideLevel(false)}>Take the level on disk</Button>
          <Button onPress={() => loft.files.decideLevel(true)}>Keep the level here</Button>
        </div>
      ) : null}
      <Beside loft={loft} />
    </div>
  );
} // prettier-ignore

/** A piece has left the grid: asked before the level becomes a drawing. */
function Beside({ loft }: { loft: Loft }): ReactNode {
  const { moving, level } = loft;
  if (!moving.beside) return null;
  const close = (): void => {
    moving.beside = undefined;
    loft.tell();
  };
  return (
    <ModalOverlay isOpen className="overlay" isDismissable onOpenChange={(open) => !open && close()}>
      <Modal className="modal">
        <Dialog role="alertdialog">
          <Heading slot="title">{level.name} cannot hold this in its rows</Heading>
          <p>{moving.beside.why[0]!.toUpperCase()}{moving.beside.why.slice(1)}.</p>
          <p>It can be saved as a drawing beside it, {level.drawnName}; {level.name} stays as it is.</p>
          <div className="set">
            <Button className="main" onPress={() => void loft.files.saveLevel(true)}>Save {level.drawnName}</Button>
            <Button onPress={close}>Not now</Button>
          </div>
        </Dialog>
      </Modal>
    </ModalOverlay>
  );
} // prettier-ignore

/** Every piece in sight as a button, for the keyboard and for those who hear the page; the pointer takes hold of the picture. */
export function Pieces({ loft }: { loft: Loft }): ReactNode {
  useLoft(loft, () => `${loft.moving.isOn}|${loft.moving.version}`);
  const { moving } = loft;
  if (!moving.isOn) return null;
  return (
    <div className="pieces" role="group" aria-label="Pieces of the level">
      {moving.pieces.slice(0, MOST).map((piece, i) => (
        <OnePiece key={i} loft={loft} index={i} label={wordsOf(piece)} />
      ))}
    </div>
  );
}

function OnePiece({ loft, index, label }: { loft: Loft; index: number; label: string }): ReactNode {
  const button = useRef<HTMLButtonElement>(null);
  useEffect(
    () =>
      loft.onFrame(() => {
        const point = loft.moving.pieces[index]?.outlines[0]?.points[0];
        if (!button.current || !point) return;
        const [x, y] = loft.camera.at(...point);
        const place = `translate(${x.toFixed(0)}px, ${y.toFixed(0)}px)`;
        if (button.current.style.transform !== place) button.current.style.transform = place;
      }),
    [loft, index],
  );
  return (
    <button
      ref={button}
      type="button"
      className="piece"
      data-piece={index}
      aria-label={`${label}. Arrow keys move it, with Alt its right and upper edge`}
      onFocus={() => loft.moving.touch({ piece: index })}
      onKeyDown={(event) => {
        const { moving, camera, document } = loft;
        if (event.key === 'Delete' || event.key === 'Backspace') return moving.remove();
        const x = event.key === 'ArrowRight' ? 1 : event.key === 'ArrowLeft' ? -1 : 0;
        const up = event.key === 'ArrowUp' ? 1 : event.key === 'ArrowDown' ? -1 : 0;
        if (x === 0 && up === 0) return;
        event.preventDefault();
        event.stopPropagation();
        const by = document.motion.full.tile * (event.shiftKey ? FINE : BY_KEY);
        moving.nudge(index, x * by, -up * camera.down * by, event.altKey);
      }}
    />
  );
} // prettier-ignore
