/**
 * @param between how far into a tick a picture is
 * @throws RangeError where it is not 0 to 1
 */
export function checkBetween(between: number): void {
  if (!(between >= 0 && between <= 1)) throw new RangeError(`between is ${between}; it must be 0 to 1`);
}
