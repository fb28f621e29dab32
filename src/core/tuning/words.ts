/** A number in a message: six figures, no more. */
export function round(value: number): string {
  return String(Number(value.toPrecision(6)));
}

/**
 * A value in a message: short, and recognisable.
 * @example
 * ```ts
 * showValue([1, 'two']) // 'a list'
 * ```
 */
export function showValue(value: unknown): string {
  if (Array.isArray(value)) return 'a list';
  if (typeof value === 'object' && value !== null) return 'a group of keys';
  if (value === null || value === undefined) return 'empty';
  const text = typeof value === 'string' ? JSON.stringify(value) : String(value);
  return text.length > 40 ? `${text.slice(0, 37)}…` : text;
}

/** Whether a value is a group of keys: an object that is neither a list nor nothing. */
export function isGroup<T>(value: T): value is T & object {
  return typeof value === 'object' && value !== null && !Array.isArray(value);
}
