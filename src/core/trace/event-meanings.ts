import type { EVENTS } from './events.js';

/**
 * When each event is told, in a line for people. Apart from the events, so that a game need not carry the words.
 * @example
 * ```ts
 * EVENT_MEANINGS.takeoff // 'a jump starts'
 * ```
 */
export const EVENT_MEANINGS: Readonly<Record<(typeof EVENTS)[number], string>> = {
  takeoff: 'a jump starts',
  apex: 'a rise has come to its end by itself',
  touchdown: 'the feet meet the ground',
  leave: 'the ground ends under the feet',
  bump: 'a wall or a ceiling stops the body; what was touched already, to within rounding, is not told again',
  corner: 'the head clipped a corner and slipped past it',
  lip: 'a jump that just missed a top was helped onto it; a touchdown follows',
  cling: 'a slide down a wall begins',
  uncling: 'a slide down a wall ends',
  hang: 'a ledge is caught',
  unhang: 'a ledge is let go of, or jumped off',
  climbed: 'a climb has come to its end on top',
  glideOn: 'gliding begins',
  glideOff: 'gliding ends',
  dropThrough: 'the body drops through one-way ground',
  footfall: 'half a stride of ground is covered',
  turned: 'the way faced changes',
  stuck:
    'sixteen pieces of motion fell within a nanosecond, and the body stands still for 1/64 s; or a body inside something solid has no way out',
  freed: 'a body that was inside something solid is out of it',
  board: 'a mover begins to carry the body',
  alight: 'a mover carries the body no more',
  pushed: 'something that moves pushes the body along',
  crushed: 'the body is pressed with no room left',
  surface: 'the body stands on another surface',
  enter: 'some of the hitbox has come into a zone',
  exit: 'nothing of the hitbox is in a zone any more',
  wrapped: 'the body has come out at the other side of the level',
  out: 'the whole body is beyond a side of the level',
  meet: 'two characters that are to meet come to overlap, or one meets a zone; both characters are told',
  part: 'they no longer overlap',
};
