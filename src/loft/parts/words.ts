/** A value of a tuning in words. */
export function wordOf(value: unknown): string {
  if (value === undefined) return 'not given';
  return typeof value === 'object' ? JSON.stringify(value) : String(value);
}
