import type { ReactNode } from 'react';
import { Button } from 'react-aria-components';
import type { PressMap } from 'apperin/lab';
import type { Asking } from '../model/asking.js';

const WIDE = 340;
const HIGH = 190;
/** Room for words around the field. */
const EDGE = { left: 46, right: 10, top: 8, bottom: 34 };

/** A number is about so wide, pixels: two of them need so much between them. */
const WORD = 26;

const ms = (seconds: number): string => String(Math.round(1000 * seconds));

/** A jump of the way that is shown: its press against its hold. */
export function Tight({ asking }: { asking: Asking }): ReactNode {
  const { tight, way } = asking;
  if (!way) return null;
  if (tight === undefined)
    return (
      <div className="tight">
        <Button onPress={() => asking.askTight(undefined)}>how tight is the way?</Button>
      </div>
    );
  return (
    <section className="tight" aria-label="Press against hold">
      <Button onPress={() => asking.leaveTight()} aria-label="Close">
        ×
      </Button>
      {tight === 'asked' ? <p role="status">looking how tight it is…</p> : null}
      {tight === 'none' ? <p role="status">there is no jump on this way</p> : null}
      {typeof tight === 'object' ? <Map map={tight} /> : null}
    </section>
  );
}

function Map({ map: { action, margin, by, held, columns } }: { map: PressMap }): ReactNode {
  const [x0, y0] = [EDGE.left, EDGE.top];
  const [wide, high] = [WIDE - EDGE.left - EDGE.right, HIGH - EDGE.top - EDGE.bottom];
  const x = (later: number): number => x0 + ((later - by[0]) / (by[1] - by[0])) * wide;
  const y = (hold: number): number => y0 + high - ((hold - held[0]) / (held[1] - held[0])) * high;
  const { at, until, press, hold, adds } = margin;
  const here = until! - at;
  const half = wide / columns.length / 2 + 0.3;
  const [early, late] = [press.earliest, press.latest].map((end) => (end === null ? undefined : end - at));
  const shaded = columns.map(({ by: later, spans }) => spans.map(([from, to]) => `M${x(later) - half} ${y(from)}H${x(later) + half}V${y(to)}H${x(later) - half}Z`).join('')).join('');
  const help = Object.entries(adds).flatMap(([grace, share]) => (share === null || share < 5e-4 ? [] : [`${grace} adds ${ms(share)}`]));
  const window = press.window === null ? 'the press has no end' : `the press has ${ms(press.window)} ms, ${(60 * press.window).toFixed(1)} frames at 60`;
  const ticks = [held[0], here, held[1]];
  const said = `${action} after ${at.toFixed(2)} s, held for ${ms(here)} ms: ${window}${help.length > 0 ? ` (${help.join(', ')} ms)` : ''}${hold.least === null ? '' : `; held for ${ms(hold.least)} ms at least`}`;
  return (
    <>
      <p role="status">{said}</p>
      <svg viewBox={`0 0 ${WIDE} ${HIGH}`} role="img" aria-label={`Press against hold; shaded is what lands on the same ground. ${said}`}>
        <path className="lands" d={shaded} />
        <rect className="field" x={x0} y={y0} width={wide} height={high} />
        <path className="window" d={`M${x(early ?? by[0])} ${y(here)}H${x(late ?? by[1])}`} />
        <path className="window held" d={`M${x(0)} ${y(hold.least ?? held[0])}V${y(Math.min(hold.most ?? held[1], held[1]))}`} />
        <circle cx={x(0)} cy={y(here)} r={4.5} />
        {ticks.map((tick, i) => (
          <text key={i} x={x0 - 5} y={y(tick) + (i === 2 ? 10 : i === 0 ? 0 : 4)} textAnchor="end">
            {ms(tick)}
          </text>
        ))}
        {[early ?? by[0], 0, late ?? by[1]].filter((later) => later === 0 || Math.abs(x(later) - x(0)) > WORD).map((later, i) => (
          <text key={i} x={x(later)} y={y0 + high + 14} textAnchor="middle">
            {later === 0 ? '0' : `${later > 0 ? '+' : '−'}${ms(Math.abs(later))}`}
          </text>
        ))}
        <text x={x0 + wide / 2} y={HIGH - 5} textAnchor="middle">
          pressed sooner, later, ms; upward: held for, ms
        </text>
      </svg>
    </>
  );
} // prettier-ignore
