import Papa from 'papaparse';
import { TRACE_COLUMNS, type InputRow, type StageEvent, type Trace, type TracePiece } from '../core/index.js';

/**
 * A trace as CSV (RFC 4180): numbers are written so that they read back to the same bits.
 * @example
 * ```ts
 * writeTrace(play({ level: openGround(), tuning: brindle, seconds: 1 }))
 * ```
 */
export function writeTrace(trace: Pick<Trace, 'rows' | 'movers'>): string {
  const moved = trace.movers.flatMap((name) => [`mover:${name}:x`, `mover:${name}:y`]);
  return table(
    [...TRACE_COLUMNS, ...moved],
    trace.rows.map((row) => [
      ...TRACE_COLUMNS.map((column) => String(row[column])),
      ...moved.map((_, i) => textOf(row.moved[i])),
    ]),
  );
}

/** Of a mover that is not there nothing is written. */
function textOf(offset = NaN): string {
  return Number.isNaN(offset) ? '' : String(offset);
}

/**
 * Events as JSON Lines, one a line.
 * @example
 * ```ts
 * writeEvents(play({ level: openGround(), tuning: brindle, seconds: 1 }).events)
 * ```
 */
export function writeEvents(events: readonly Partial<StageEvent>[]): string {
  return events.map((event) => `${JSON.stringify(event)}\n`).join('');
}

/**
 * Pieces of motion as JSON Lines, one a line: numbers read back to the same bits.
 * @example
 * ```ts
 * writePieces(play({ level: openGround(), tuning: brindle, seconds: 1 }).pieces)
 * ```
 */
export function writePieces(pieces: readonly TracePiece[]): string {
  return pieces.map((piece) => `${JSON.stringify(piece)}\n`).join('');
}

/**
 * An input as CSV, as `readInput` reads it.
 * @example
 * ```ts
 * writeInput(mill.record(hero).rows)
 * ```
 */
export function writeInput(rows: readonly InputRow[]): string {
  return table(
    ['time', 'action', 'value'],
    rows.map(({ time, action, value, call }) => [
      String(time),
      action,
      call === undefined ? String(value) : JSON.stringify(call),
    ]),
  );
}

/** Lines of CSV, each with its end. */
function table(columns: readonly string[], rows: readonly string[][]): string {
  return `${Papa.unparse([[...columns], ...rows], { newline: '\r\n' })}\r\n`;
}
