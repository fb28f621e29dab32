/** What moves a cursor, colours a terminal, turns the direction of reading, or stands alone as half a character. */
export const UNSEEN = /[\p{Cc}\p{Cs}\u200e\u200f\u2028-\u202e\u2066-\u2069\ufeff]/gu;

/**
 * A text as it can be shown anywhere: what would move a cursor, colour a terminal or turn the direction of reading is written as its code.
 * Ends of lines and tabs stay.
 * @example
 * ```ts
 * visible('\u001b[31mred') // what would colour a terminal is written as its code
 * ```
 */
export function visible(text: string): string {
  return text.replace(UNSEEN, (mark) =>
    mark === '\n' || mark === '\t' ? mark : `\\u${mark.charCodeAt(0).toString(16).padStart(4, '0')}`,
  );
}
