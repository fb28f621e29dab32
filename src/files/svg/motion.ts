import { curveOf, type Route } from '../../core/index.js';
import type { Report } from './data.js';
import { readNumbers, type Matrix } from './matrix.js';
import type { SvgElement } from './tree.js';

/**
 * The route of a mover, as `animateMotion` has it: a browser that shows the drawing shows the same motion.
 * @param matrix of what the mover stands in: the path is in those coordinates
 * @param place from the drawing's coordinates to the level's
 * @returns undefined where something is wrong, which has been reported then
 */
export function routeOf(
  element: SvgElement,
  [a, b, c, d]: Matrix,
  place: (point: readonly [number, number]) => readonly [number, number],
  report: Report,
): Route | undefined {
  const { path, dur, begin, calcMode = 'paced', repeatCount = '1', fill, rotate } = element.attributes;
  const refuse = (message: string): undefined => void report(element, message);
  if (path === undefined) return refuse('a mover’s animateMotion needs a path');
  if (rotate !== undefined && rotate !== '0') return refuse(`rotate is ${JSON.stringify(rotate)}; movers do not turn`);
  const lap = dur === undefined ? NaN : clock(dur);
  if (!(lap > 0)) return refuse(`dur is ${JSON.stringify(dur ?? '')}; it must be a time such as 4s`);
  const late = begin === undefined ? 0 : clock(begin);
  if (!(late <= 0))
    return refuse(`begin is ${JSON.stringify(begin)}; it must be 0s, or a time before the start such as -2s`);
  const laps = repeatCount === 'indefinite' ? Infinity : Number(repeatCount);
  if (!(laps > 0))
    return refuse(`repeatCount is ${JSON.stringify(repeatCount)}; it must be indefinite, or a number above 0`);
  if (laps < Infinity && fill !== 'freeze')
    report(
      element,
      'without fill="freeze" a browser puts the mover back when it has done its laps; here it stays',
      'warning',
    );
  if (!['linear', 'spline', 'paced'].includes(calcMode))
    return refuse(`calcMode is ${JSON.stringify(calcMode)}; it must be linear, spline or paced: a mover cannot jump`);
  const drawn = curveOf(path);
  if (typeof drawn === 'string') return refuse(`the path ${drawn}`);
  const curve = drawn.map((numbers) => {
    const placed: number[] = [];
    for (let i = 0; i < numbers.length; i += 2)
      placed.push(...place([a * numbers[i]! + c * numbers[i + 1]!, b * numbers[i]! + d * numbers[i + 1]!]));
    return placed.map((value) => value + 0);
  });
  const lists = readKeys(element, calcMode, report);
  if (!lists) return undefined;
  return { curve, lap, ...lists, ...(late < 0 ? { phase: -late } : {}), ...(laps < Infinity ? { laps } : {}) };
}

function readKeys(
  element: SvgElement,
  calcMode: string,
  report: Report,
): Pick<Route, 'keyPoints' | 'keyTimes' | 'keySplines'> | undefined {
  const { keyPoints, keyTimes, keySplines } = element.attributes;
  const listOf = (name: string, text: string): number[] | undefined => {
    const read = readNumbers(withoutLast(text.trim(), ';').replaceAll(';', ' '));
    if (!read)
      report(element, `${name} is ${JSON.stringify(text.slice(0, 60))}; it must be numbers with semicolons between`);
    return read;
  };
  if (calcMode === 'paced') {
    if (keyPoints !== undefined || keyTimes !== undefined)
      report(element, 'keyPoints and keyTimes count with calcMode="linear" or "spline" only', 'error');
    return keyPoints === undefined && keyTimes === undefined ? {} : undefined;
  }
  const read: { keyPoints?: number[]; keyTimes?: number[]; keySplines?: [number, number, number, number][] } = {};
  if (keyPoints !== undefined) {
    const list = listOf('keyPoints', keyPoints);
    if (!list) return undefined;
    read.keyPoints = list;
  }
  if (keyTimes !== undefined) {
    const list = listOf('keyTimes', keyTimes);
    if (!list) return undefined;
    if (keyPoints === undefined) {
      report(element, 'keyTimes need keyPoints: which places they are the moments of');
      return undefined;
    }
    read.keyTimes = list;
  }
  if (calcMode === 'spline') {
    const list = keySplines === undefined ? undefined : listOf('keySplines', keySplines);
    if (!list || list.length % 4 !== 0) {
      report(element, 'calcMode="spline" needs keySplines: four numbers for each stretch between two keyTimes');
      return undefined;
    }
    read.keySplines = [];
    for (let i = 0; i < list.length; i += 4) read.keySplines.push([list[i]!, list[i + 1]!, list[i + 2]!, list[i + 3]!]);
  }
  return read;
}

const withoutLast = (text: string, mark: string): string => (text.endsWith(mark) ? text.slice(0, -mark.length) : text);

/** No time is written longer, characters. */
const LONGEST_CLOCK = 64;

/** Seconds of a clock value: `4s`, `500ms`, `0.5min`, `1h`, `1:30`, `4`. @returns NaN where it is none */
function clock(written: string): number {
  const text = written.trim();
  if (text.length > LONGEST_CLOCK) return NaN;
  const [, sign, hours, minutes, seconds] = /^([+-]?)(?:(\d+):)?(\d+):(\d+(?:\.\d+)?)$/.exec(text) ?? [];
  if (seconds !== undefined)
    return (Number(hours ?? 0) * 3600 + Number(minutes) * 60 + Number(seconds)) * (sign === '-' ? -1 : 1);
  const [, number, unit] = /^([+-]?\d*\.?\d+)(h|min|s|ms)?$/.exec(text) ?? [];
  const scale = { h: 3600, min: 60, s: 1, ms: 0.001 }[unit ?? 's'];
  return number === undefined || scale === undefined ? NaN : Number(number) * scale;
}
