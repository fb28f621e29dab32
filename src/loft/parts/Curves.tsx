import { useEffect, useRef, type ReactNode } from 'react';
import { Label, Slider, SliderOutput, SliderThumb, SliderTrack } from 'react-aria-components';
import uPlot from 'uplot';
import { DASHES } from '../draw/colours.js';
import type { Loft } from '../model/loft.js';
import { useLoft } from './App.js';

const PANELS = [
  { title: 'height, units', of: (at: Point, up: number): number => at.y * up },
  { title: 'speed up, units/s', of: (at: Point, up: number): number => at.vy * up },
  { title: 'speed across, units/s', of: (at: Point): number => at.vx },
] as const;

interface Point {
  time: number;
  y: number;
  vx: number;
  vy: number;
}

/** The last seconds that are drawn, s. */
const SHOWN = 8;

/** The curves are drawn this often at most, s. */
const EVERY = 0.03;

interface Line {
  name: string;
  points: readonly Point[];
  /** −1 where the level's y points down. */
  up: number;
  colour: string;
  dash: readonly number[];
}

/**
 * Height and speeds over time: of a touched number its scene before and after, else of the take with every ghost, else of what was played last. What is pointed at is
 * shown in the level.
 */
export function Curves({ loft }: { loft: Loft }): ReactNode {
  useLoft(loft, () => {
    const { session, touched, shown } = loft;
    return `${touched?.key}|${shown?.what}|${session.take?.from}|${session.take?.to}|${session.looking}|${session.steps.paused}`;
  });
  const box = useRef<HTMLDivElement>(null);
  useEffect(() => {
    const element = box.current!;
    const style = getComputedStyle(element);
    let colours = new Map<string, string>();
    /** Asked of the page's style once for each theme. */
    const colour = (name: string): string => {
      let found = colours.get(name);
      if (found === undefined) colours.set(name, (found = style.getPropertyValue(`--${name}`).trim()));
      return found;
    };
    let [width, height] = [element.clientWidth, element.clientHeight];
    const fit = new ResizeObserver(() => {
      [width, height] = [element.clientWidth, element.clientHeight];
    });
    fit.observe(element);
    const plots: uPlot[] = [];
    let kind = '';
    let theme = '';
    let last: readonly unknown[] = [];
    let drawn = -Infinity;
    const point = (plot: uPlot): void => {
      const { left } = plot.cursor;
      const { shown, session } = loft;
      if (left === undefined || left < 0 || shown) return;
      session.looking = plot.posToVal(left, 'x');
    };
    const make = (lines: readonly Line[]): void => {
      while (plots.length > 0) plots.pop()!.destroy();
      for (const { title } of PANELS) {
        const grid = { stroke: colour('line'), width: 1 };
        const axis = { stroke: colour('ink'), font: '11px system-ui', grid, ticks: grid };
        plots.push(
          new uPlot(
            {
              width: Math.max(200, Math.floor(width / 3) - 8),
              height: Math.max(90, height - 26),
              title,
              legend: { show: false },
              cursor: { sync: { key: 'loft' }, drag: { x: false, y: false } },
              scales: { x: { time: false } },
              axes: [{ ...axis, size: 30, space: 50 }, { ...axis, size: 44 }],
              series: [{}, ...lines.map((line) => ({ label: line.name, stroke: line.colour, width: 2, dash: [...line.dash], points: { show: false } }))],
              hooks: { setCursor: [(plot: uPlot) => { if (plot.root.matches(':hover')) point(plot);
                    // Left alone, it shows the present again.
                    else if (!loft.session.steps.paused && !loft.session.take && !plots.some(({ root }) => root.matches(':hover'))) loft.session.looking = undefined; }] },
            },
            [[], ...lines.map(() => [])] as unknown as uPlot.AlignedData,
            element,
          ),
        );
      }
    }; // prettier-ignore
    const draw = (at: number): void => {
      // The level has every frame, the curves every other one.
      if (at - drawn < EVERY) return;
      const { session, shown } = loft;
      // All that the curves depend on.
      const now = [shown, session.take, session.live, session.ghosts.length, session.ghosts.at(-1), session.samples.length, session.samples.at(-1), width, height, loft.theme]; // prettier-ignore
      if (now.every((one, i) => one === last[i])) return;
      last = now;
      drawn = at;
      if (loft.theme !== theme) colours = new Map();
      theme = loft.theme;
      const lines = linesOf(loft, colour);
      const needed = `${width} ${height} ${theme} ${lines.map(({ name, colour: of }) => name + of).join('|')}`;
      if (needed !== kind) {
        kind = needed;
        make(lines);
      }
      const times = merged(lines);
      PANELS.forEach(({ of }, i) =>
        plots[i]!.setData([times, ...lines.map((line) => valuesAt(line, times, of))] as uPlot.AlignedData),
      );
      element.dataset.lines = String(lines.length);
    };
    const stop = loft.onFrame(draw);
    return () => {
      stop();
      fit.disconnect();
      while (plots.length > 0) plots.pop()!.destroy();
    };
  }, [loft]);
  const { session } = loft;
  const { take } = session;
  const [from, to] = take ? [take.from, take.to] : [Math.max(0, session.stage.time - SHOWN), session.stage.time];
  // There is a moment to look at even before anything is played.
  const last = Math.max(to, from + 1 / session.rate);
  const words = loft.shown ? `${loft.touched!.key}: ${loft.shown.what || 'see the level'}; dashed before, full after` : take ? 'the take, each ghost with its dashes' : `the last ${SHOWN} seconds`; // prettier-ignore
  return (
    <div className="curves">
      <div ref={box} className="plots" role="img" aria-label={`Height, speed up and speed across over time: ${words}`} />
      <div className="under">
        <p>{words}</p>
        <Slider
          className="scrub"
          minValue={from}
          maxValue={last}
          step={1 / session.rate}
          value={Math.min(Math.max(session.looking ?? last, from), last)}
          isDisabled={!take && !session.steps.paused}
          onChange={(value) => {
            session.looking = value as number;
            loft.tell();
          }}
        >
          <Label>Look at</Label>
          <SliderTrack className="track">
            <SliderThumb className="thumb" />
          </SliderTrack>
          <SliderOutput>{({ state }) => (state.isDisabled ? '' : `${state.values[0]!.toFixed(3)} s`)}</SliderOutput>
        </Slider>
      </div>
    </div>
  );
} // prettier-ignore

function linesOf(loft: Loft, colour: (name: string) => string): Line[] {
  const { shown, session } = loft;
  const up = session.level.yPoints === 'up' ? 1 : -1;
  if (shown && shown.ways.length > 0)
    return shown.ways.map(({ points }, i) => {
      const last = i === shown.ways.length - 1;
      return { name: last ? 'after' : 'before', points, up: 1, colour: colour(last ? 'after' : 'before'), dash: last ? [] : [6, 4] }; // prettier-ignore
    });
  if (session.take) {
    const all = [...session.ghosts, ...(session.live ? [session.live] : [])];
    return all.map((ghost, i) => {
      const live = ghost === session.live;
      return { name: ghost.name, points: ghost.trail, up, colour: colour(live ? 'after' : `ghost-${(i % 4) + 1}`), dash: live ? [] : DASHES[i % 4]! }; // prettier-ignore
    });
  }
  const { samples } = session;
  return [{ name: 'played', points: samples.slice(-Math.round(SHOWN * session.rate)), up, colour: colour('after'), dash: [] }]; // prettier-ignore
}

/** The times of all lines, ascending. */
function merged(lines: readonly Line[]): number[] {
  const all = [...new Set(lines.flatMap(({ points }) => thinned(points).map(({ time }) => time)))];
  return all.sort((a, b) => a - b);
}

/** About as many as a plot has pixels across. */
const DRAWN = 300;

function thinned(points: readonly Point[]): readonly Point[] {
  const every = Math.ceil(points.length / DRAWN);
  return every <= 1 ? points : points.filter((_, i) => i % every === 0 || i === points.length - 1);
}

function valuesAt(
  { points, up }: Line,
  times: readonly number[],
  of: (at: Point, up: number) => number,
): (number | null)[] {
  let i = 0;
  return times.map((time) => {
    while (i + 1 < points.length && points[i + 1]!.time <= time + 1e-9) i++;
    const at = points[i];
    return at === undefined || time < at.time - 1e-9 || time > points[points.length - 1]!.time + 1e-9
      ? null
      : of(at, up);
  });
}
