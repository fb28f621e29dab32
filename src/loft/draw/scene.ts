import type { Motion } from 'apperin';
import type { Asking } from '../model/asking.js';
import type { Prediction } from '../model/prediction.js';
import type { Session } from '../model/session.js';
import type { Shown } from '../model/shown.js';
import type { Fitting } from '../model/fitting.js';
import type { Moving } from '../model/moving.js';
import type { Ghost } from '../model/take.js';
import type { Camera } from './camera.js';
import type { Colours } from './colours.js';

/** What can be reached from a takeoff: an area and its outline as paths, from its place, y up. */
export interface Reach {
  motion: Motion;
  area: string;
  outline: string;
}

export interface Picture {
  session: Session;
  camera: Camera;
  colours: Colours;
  /** What the number that is touched does. */
  shown: Shown | undefined;
  /** What will happen from here, with the tuning before and after: drawn instead of the scene. */
  predicted: { before: Prediction | undefined; after: Prediction } | undefined;
  reach: Reach | undefined;
  /** Where it gets to, where that is asked. */
  asking: Asking | undefined;
  /** A motion whose numbers are looked for. */
  fitting: Fitting;
  /** What of the level is moved. */
  moving: Moving;
  /** How the take went before a press of it was moved. */
  asPressed: Ghost | undefined;
  /** Whether things may move by themselves. */
  calm: boolean;
}
