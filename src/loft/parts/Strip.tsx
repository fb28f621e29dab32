import { useEffect, useRef, useState, type PointerEvent, type ReactNode } from 'react';
import { Button, Slider, SliderOutput, SliderThumb, SliderTrack } from 'react-aria-components';
import { coloursOf, type Colours } from '../draw/colours.js';
import { GUTTER, LANE, RIGHT, acrossOf, drawStrip, lanesOf } from '../draw/strip.js';
import type { Loft } from '../model/loft.js';
import type { Bar, BarPart } from '../model/presses.js';
import { barsIn } from '../model/strip.js';
import { useLoft } from './App.js';

/** So far a key moves a press, s; with Shift so far. */
const BY_KEY = 0.005;
const FINE = 0.001;

/** More than so many bars are drawn, and can be taken hold of when what is seen has fewer. */
const MOST = 60;

/** The strip is drawn this often at most, s. */
const EVERY = 0.03;

/** The strip of time under the level: presses as bars that can be dragged, phases, what happened, height and speeds, all on one axis with the head that looks at a moment. */
export function Strip({ loft }: { loft: Loft }): ReactNode {
  useLoft(loft, () => {
    const { session, touched, shown, strip } = loft;
    return `${touched?.key}|${shown?.what}|${session.take?.from}|${session.take?.to}|${session.looking}|${session.steps.paused}|${strip.version}`;
  });
  const canvas = useRef<HTMLCanvasElement>(null);
  const [width, setWidth] = useState(800);
  const { strip } = loft;
  useEffect(() => {
    const element = canvas.current!;
    const pen = element.getContext('2d')!;
    let size = [0, 0];
    let drawn: readonly unknown[] = [];
    let colours: Colours | undefined;
    let theme = '';
    let last = -Infinity;
    const fit = new ResizeObserver(() => {
      const ratio = devicePixelRatio || 1;
      size = [element.clientWidth, element.clientHeight];
      element.width = Math.max(1, Math.round(size[0]! * ratio));
      element.height = Math.max(1, Math.round(size[1]! * ratio));
      pen.setTransform(ratio, 0, 0, ratio, 0, 0);
      drawn = [];
      setWidth(size[0]!);
    });
    fit.observe(element);
    const wheel = (event: WheelEvent): void => {
      event.preventDefault();
      const { left } = element.getBoundingClientRect();
      const share = (event.clientX - left - GUTTER) / (size[0]! - GUTTER - RIGHT);
      if (event.shiftKey) strip.pan(event.deltaY * 0.001);
      else strip.zoom(Math.exp(event.deltaY * 0.0015), Math.min(1, Math.max(0, share)));
    };
    element.addEventListener('wheel', wheel, { passive: false });
    const stop = loft.onFrame((at) => {
      // The level has every frame, the strip every other one.
      if (at - last < EVERY) return;
      const { session, shown } = loft;
      const now = [shown, session.live, session.ghosts.length, session.ghosts.at(-1), session.take, session.take ? 0 : session.stage.ticks, session.looking, loft.theme, strip.version, ...size]; // prettier-ignore
      if (now.length === drawn.length && now.every((one, i) => one === drawn[i])) return;
      drawn = now;
      last = at;
      if (loft.theme !== theme) colours = undefined;
      theme = loft.theme;
      colours ??= coloursOf(element);
      const seen = strip.seen();
      drawStrip(pen, size[0]!, size[1]!, seen, strip.span(seen), colours, strip.margins, session.looking);
      element.dataset.lines = String(seen.lines.length);
    });
    return () => {
      stop();
      fit.disconnect();
      element.removeEventListener('wheel', wheel);
    };
  }, [loft, strip]);
  const { session } = loft;
  const seen = strip.seen();
  const span = strip.span(seen);
  const x = acrossOf(width, span);
  const look = (event: PointerEvent): void => {
    if (loft.shown || (!session.take && !session.steps.paused)) return;
    const left = event.clientX - canvas.current!.getBoundingClientRect().left;
    const time = span.from + ((left - GUTTER) / (width - GUTTER - RIGHT)) * (span.to - span.from);
    session.looking = time < span.from || time > seen.to ? undefined : time;
  };
  const bars = seen.isHeld ? barsIn(seen, span) : [];
  const lanes = lanesOf(seen.bars);
  const last = Math.max(span.to, span.from + 1 / seen.rate);
  return (
    <div className="strip">
      <div className="axis">
        <canvas ref={canvas} role="img" aria-label={`Over time: ${seen.what}. ${strip.told(seen)}`} onPointerMove={look} onPointerLeave={() => !session.take && (session.looking = undefined)} />
        {bars.length <= MOST
          ? bars.map((bar, i) => <OneBar key={`${bar.action} ${i}`} loft={loft} bar={bar} index={i} top={lanes.indexOf(bar.action) * LANE} left={Math.max(GUTTER, x(bar.at))} right={Math.min(width - RIGHT, x(bar.until))} perSecond={x(1) - x(0)} />)
          : null}
      </div>
      <div className="under">
        <div role="group" aria-label="What is seen of the time" className="set">
          <Button aria-label="Nearer in time" onPress={() => strip.zoom(0.6, 0.5)}>+</Button>
          <Button aria-label="Farther in time" onPress={() => strip.zoom(1 / 0.6, 0.5)}>−</Button>
        </div>
        <Slider
          className="scrub"
          aria-label="Look at"
          minValue={span.from}
          maxValue={last}
          step={1 / seen.rate}
          value={Math.min(Math.max(session.looking ?? seen.to, span.from), last)}
          isDisabled={!session.take && !session.steps.paused}
          onChange={(value) => {
            session.looking = Math.min(value as number, seen.to);
            loft.tell();
          }}
        >
          <SliderTrack className="track">
            <SliderThumb className="thumb" />
          </SliderTrack>
          <SliderOutput>{({ state }) => (state.isDisabled ? '' : `${state.values[0]!.toFixed(3)} s`)}</SliderOutput>
        </Slider>
      </div>
      <p className="hint">
        <span>{strip.said(seen)}</span>
        {strip.isChanged ? <Button onPress={() => strip.putBack()}>Keys as they were</Button> : null}
      </p>
    </div>
  );
} // prettier-ignore

interface Placed {
  loft: Loft;
  bar: Bar;
  index: number;
  top: number;
  left: number;
  right: number;
  perSecond: number;
}

const ms = (seconds: number): string => String(Math.round(seconds * 1000));

/** A press: the whole of it is moved, or its end alone. */
function OneBar({ loft, bar, index, top, left, right, perSecond }: Placed): ReactNode {
  const { action, at, until, press, release, value } = bar;
  const held = `held for ${ms(until - at)} ms`;
  const part = (name: BarPart, label: string, said: string, box: { left: number; width: number }): ReactNode => (
    <Grip key={name} loft={loft} index={index} name={name} label={`${action}, ${label}`} said={`${said}, ${held}`} value={name === 'press' ? at : until} style={{ left: box.left, top, width: box.width, height: LANE }} perSecond={perSecond} />
  );
  // An axis has many values: it is seen, and not dragged.
  if (value !== 1) return null;
  const end = Math.min(8, Math.max(4, (right - left) / 3));
  return (
    <>
      {press === undefined ? null : part('press', 'pressed', `at ${at.toFixed(3)} s`, { left, width: Math.max(6, right - left - end) })}
      {part('release', 'let go of', release === undefined ? 'not before the end' : `at ${until.toFixed(3)} s`, { left: Math.max(left + 2, right - end), width: end + 3 })}
    </>
  );
} // prettier-ignore

/** What of a bar is taken hold of. */
function Grip({ loft, index, name, label, said, value, style, perSecond }: { loft: Loft; index: number; name: BarPart; label: string; said: string; value: number; style: { left: number; top: number; width: number; height: number }; perSecond: number }): ReactNode {
  const grip = useRef<HTMLDivElement>(null);
  const from = useRef<number | undefined>(undefined);
  const { strip } = loft;
  const end = (): void => {
    from.current = undefined;
    strip.letGo();
  };
  return (
    <div
      ref={grip}
      role="slider"
      tabIndex={0}
      aria-valuenow={value}
      aria-valuetext={said}
      className={`grip-of-time ${name}`}
      data-bar={`${index} ${name}`}
      style={style}
      aria-label={label}
      onPointerDown={(event) => {
        grip.current!.setPointerCapture(event.pointerId);
        grip.current!.focus();
        from.current = event.clientX;
        strip.hold(index, name);
      }}
      onPointerMove={(event) => {
        if (from.current !== undefined) strip.drag((event.clientX - from.current) / perSecond, event.shiftKey);
      }}
      onPointerUp={end}
      onPointerCancel={end}
      onKeyDown={(event) => {
        if (event.key === 'Escape' && from.current !== undefined) {
          strip.giveBack();
          from.current = undefined;
          return;
        }
        const way = event.key === 'ArrowRight' ? 1 : event.key === 'ArrowLeft' ? -1 : 0;
        if (way === 0) return;
        event.preventDefault();
        event.stopPropagation();
        strip.hold(index, name);
        strip.drag(way * (event.shiftKey ? FINE : BY_KEY));
        strip.letGo();
      }}
    />
  );
} // prettier-ignore
