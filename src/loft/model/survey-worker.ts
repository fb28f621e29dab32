import {
  compileTuning,
  placeIn,
  type CompiledLevel,
  type InputRow,
  type Motion,
  type TracePiece,
  type Tuning,
} from 'apperin';
import { readLevel } from 'apperin/files';
import {
  Explorer,
  margins,
  play,
  pressMap,
  sceneOf,
  survey,
  type Answered,
  type Doing,
  type KeptLink,
  type PressMap,
  type PressMargin,
  type Proof,
  type SurveyOptions,
  type Surveyed,
} from 'apperin/lab';
import { pathOf, stretchesOf } from '../../figures/path.js';
import type { Asked, Told } from './asking.js';

/** What is spent first, so that there is an answer at once, and then to know more: events of the core. */
const SPENDS = [3_000, 12_000, 120_000, 1_200_000] as const;

/** It goes on for so long before it hears what else is asked, ms. */
const LONG = 15;
/** So many links are kept at most. */
const MOST_KEPT = 4_000;

let known: { surveyed: Surveyed; level: CompiledLevel; motion: Motion; at: readonly [number, number] } | undefined;
/** What led somewhere in the last survey: the next one begins with it. */
let kept: readonly KeptLink[] = [];
let read: { text: string; level: CompiledLevel } | undefined;
/** Which question is the last one: what was asked before is left. */
let latest = 0;

const tell = (told: Told): void => self.postMessage(told);

/** Lets messages come in. */
const breath = (): Promise<void> =>
  new Promise((done) => {
    const { port1, port2 } = new MessageChannel();
    port1.onmessage = () => {
      port1.close();
      done();
    };
    port2.postMessage(0);
  });

/** What leads somewhere now, and what did before and may again. */
function together(now: readonly KeptLink[], before: readonly KeptLink[]): KeptLink[] {
  const known = new Set(now.map(({ from, to }) => `${from} ${to}`));
  return [...now, ...before.filter(({ from, to }) => !known.has(`${from} ${to}`))].slice(0, MOST_KEPT);
}

class Left extends Error {}

/** Surveys the level beside the picture, further and further; and shows the way to one place. */
self.onmessage = async ({ data }: MessageEvent<Asked>) => {
  if ('place' in data) {
    // Nobody asks any more.
    if (data.place < 0) latest = -1;
    else tell(wayTo(data.place));
    return;
  }
  if ('tight' in data) {
    tell({ kind: 'tight', place: data.tight, map: tightOf(data.tight, data.near) });
    return;
  }
  const { question, text, file, tuning, at } = data;
  latest = question;
  try {
    if (read?.text !== text) read = { text, level: readLevel(text, { file }).compiled };
    const { level } = read;
    const motion = compileTuning(tuning as Tuning);
    for (const spend of data.early ? SPENDS.slice(0, 1) : SPENDS) {
      // Answers come first; then ways that leave more room for a press.
      const isEarly = spend < SPENDS[2];
      const options: SurveyOptions = { level, tuning: motion, at, to: [], zones: false, spend, kept, ...(isEarly ? { care: 0 } : {}) };
      const explorer = new Explorer(sceneOf(options));
      const doing: Doing = async (tasks) => {
        const answers: Answered[] = [];
        for (const task of tasks) {
          const answering = explorer.answering(task);
          for (let since = -Infinity; ; ) {
            if (performance.now() - since > LONG) {
              await breath();
              if (question !== latest) throw new Left();
              since = performance.now();
            }
            const { done, value } = answering.next();
            if (!done) continue;
            answers.push(value);
            break;
          }
        }
        return answers;
      };
      const surveyed = await survey(options, doing);
      if (question !== latest) return;
      known = { surveyed, level, motion, at };
      kept = together(surveyed.kept(), kept);
      const { places, total, spent } = surveyed.survey;
      if (data.early) return;
      const isDone = spend === SPENDS.at(-1) || (!isEarly && (spent < spend || total['not found'] === 0));
      tell({ kind: 'places', question, total, isDone, places: places.map(({ id, points, answer, time, short, mover }) => ({ id, points, answer, time, short, mover })) });
      await breath();
      if (isDone || question !== latest) return;
    }
  } catch (error) {
    if (!(error instanceof Left)) tell({ kind: 'wrong', question, message: (error as Error).message });
  }
}; // prettier-ignore

/** The keys that lead to a place, as a flight from where it was asked. */
function wayTo(place: number): Told {
  const proof = known?.surveyed.proof(place);
  if (!known || !proof) return { kind: 'way', place, path: '', from: [0, 0], time: 0, care: 0 };
  const { at } = known;
  const [x, y] = at;
  const path = pathOf(
    stretchesOf(piecesOf(proof)),
    (px, py) => `${Number((px - x).toFixed(5))},${Number((py - y).toFixed(5))}`,
  );
  return { kind: 'way', place, path, from: [x, y], time: proof.time, care: proof.care };
}

/** Directions are held, and no presses to be met. */
const HELD = ['left', 'right', 'up', 'down', 'move', 'walk'];
/** Moments of the press that are looked at. */
const COLUMNS = 48;

/** The press of a way whose flight comes nearest to a point, or the tightest one, against its hold; nothing where there is none. */
function tightOf(place: number, near: readonly [number, number] | undefined): PressMap | undefined {
  const proof = known?.surveyed.proof(place);
  if (!known || !proof) return undefined;
  const { level, motion, at } = known;
  const presses = (input: readonly InputRow[]): (PressMargin & { index: number })[] => margins({ level, tuning: motion, input, at }).map((margin, index) => ({ ...margin, index })).filter(({ action }) => !HELD.includes(action));
  let input = proof.rows;
  let all = presses(input);
  // A way has no row that could be left out: what is held to its end is let go of at its landing.
  const held = all.filter(({ until }) => until === null);
  if (held.length > 0) {
    input = [...input, ...held.map(({ action, lands }) => ({ time: lands.time, action, value: 0 }))].sort((one, other) => one.time - other.time);
    all = presses(input);
  }
  const room = ({ press }: PressMargin): number => press.window ?? Infinity;
  const pressed = near === undefined ? [...all].sort((one, other) => room(one) - room(other))[0] : (all.filter(({ at: moment }) => moment <= nearestMoment(piecesOf(proof), near)).at(-1) ?? all[0]);
  return pressed && pressMap({ level, tuning: motion, input, at, index: pressed.index, columns: COLUMNS });
} // prettier-ignore

/** A way as it is played. */
function piecesOf({ rows, time }: Proof): readonly TracePiece[] {
  const { level, motion, at } = known!;
  return play({ level, tuning: motion, input: rows, at, seconds: time + 0.05, rate: 120 }).pieces;
}

/** When a way is nearest to a point. */
function nearestMoment(pieces: readonly TracePiece[], [nx, ny]: readonly [number, number]): number {
  let [best, when] = [Infinity, 0];
  for (const piece of pieces)
    for (let k = 0; k <= 8; k++) {
      const time = piece.from + ((piece.until - piece.from) * k) / 8;
      const { x, y } = placeIn(piece, time);
      const off = (x - nx) ** 2 + (y - ny) ** 2;
      if (off < best) [best, when] = [off, time];
    }
  return when;
}
