/**
 * A short text that differs when any bit of the numbers differs: 64 bits of FNV-1a over their bytes.
 * Equal in every engine for equal bits.
 * @example
 * ```ts
 * fingerprint(mill.snapshot()) // alike: the same bits
 * ```
 */
export function fingerprint(numbers: Float64Array): string {
  const words = new Uint32Array(numbers.buffer, numbers.byteOffset, numbers.length * 2);
  let a = 0x811c9dc5;
  let b = 0x01000193;
  for (let i = 0; i < words.length; i++) {
    a = Math.imul(a ^ words[i]!, 0x01000193);
    b = Math.imul(b ^ words[i]! ^ (a >>> 15), 0x85ebca6b);
  }
  const hex = (n: number): string => (n >>> 0).toString(16).padStart(8, '0');
  return hex(a) + hex(b);
}
