import type { StageEvent, Trace } from '../core/index.js';

/** One jump or fall of a trace: from leaving the ground to the next touchdown, or to the ledge caught. */
export interface Flight {
  /** How it began: what granted the jump, or `leave` for walking off, `drop` for one-way ground, `unhang` for a ledge. */
  by: string;
  start: number;
  /** Seconds in the air, units up to its highest event and across; null while still in the air. */
  time: number | null;
  rise: number;
  across: number | null;
  /** Speed down at the touchdown, units/s; null where a ledge was caught. */
  touchdown: number | null;
}

/** Events that begin a fall without a jump, and what the flight is called. */
const FALLS_BY: Readonly<Record<string, string>> = { leave: 'leave', dropThrough: 'drop', unhang: 'unhang' };

/** Phases of coming down. */
const FALLS: readonly string[] = ['fall', 'ramp', 'cap'];

/**
 * The flights of a trace.
 * @example
 * ```ts
 * flights(play({ level: openGround(), tuning: brindle, input: rows, seconds: 3 }))
 * ```
 */
export function flights(trace: Pick<Trace, 'events' | 'rows'>): Flight[] {
  const found: Flight[] = [];
  // Heights in a trace follow the level's y axis; a rise is counted against gravity, whichever way that is.
  const up = trace.rows.some(({ phase, vy }) => (FALLS.includes(phase) ? vy > 0 : phase === 'rise' && vy < 0)) ? -1 : 1;
  let open: { flight: Flight; x: number; y: number } | undefined;
  for (const event of trace.events) {
    if (event.event === 'takeoff' || FALLS_BY[event.event!] !== undefined) {
      // Walking off and jumping a moment later is one flight, and the jump is what it is about.
      if (open && !Object.values(FALLS_BY).includes(open.flight.by)) found.push(open.flight);
      const flight = {
        by: event.by || FALLS_BY[event.event!]!,
        start: event.time!,
        time: null,
        rise: 0,
        across: null,
        touchdown: null,
      };
      open = { flight, x: event.x!, y: event.y! };
    } else if (open && (event.event === 'apex' || event.event === 'bump')) {
      open.flight.rise = Math.max(open.flight.rise, (event.y! - open.y) * up);
    } else if (open && (event.event === 'touchdown' || event.event === 'hang')) {
      open.flight.time = event.time! - open.flight.start;
      open.flight.across = Math.abs(event.x! - open.x);
      open.flight.touchdown = event.event === 'hang' ? null : event.speed!;
      found.push(open.flight);
      open = undefined;
    }
  }
  if (open) found.push(open.flight);
  return found;
}

/**
 * What an event says about itself beyond where and when, for people.
 * @example
 * ```ts
 * play({ level: openGround(), tuning: brindle, input: rows, seconds: 3 }).events.map(remark)
 * ```
 */
export function remark(event: Partial<StageEvent>): string {
  switch (event.event) {
    case 'takeoff':
      return `by ${event.by}${event.buffered ? ', buffered' : ''}`;
    case 'touchdown':
      return `at ${round(event.speed!)} units/s, fell ${round(event.fallen!)}`;
    case 'bump':
      return `${event.side} at ${round(event.speed!)} units/s`;
    case 'corner':
      return `slipped ${event.side} by ${round(event.moved!)}`;
    case 'lip':
      return `helped up ${round(event.moved!)} onto the ${event.side}`;
    case 'turned':
      return event.facing! > 0 ? 'to +x' : 'to -x';
    case 'surface':
      return event.surface || 'plain';
    case 'enter':
    case 'exit':
      return [event.zone, ...event.tags!].join(', ');
    case 'board':
    case 'alight':
      return event.mover!;
    case 'pushed':
      return `by ${event.mover} from the ${event.side}`;
    case 'crushed':
      return `by ${event.mover} against ${event.against || 'something'}`;
    case 'wrapped':
    case 'out':
      return event.side!;
    default:
      return '';
  }
}

function round(value: number): string {
  return value.toFixed(2);
}
