/**
 * `exp` and `ln` from the four operations only, so that every JavaScript engine gives the same bits.
 * (The engines' own `Math.exp` and `Math.log` may differ in the last place.)
 */
/** ln 2, split so that k·LN2_HIGH is exact for |k| < 2¹⁰. */
const LN2_HIGH = 0.69314718036912381649;
const LN2_LOW = 1.90821492927058770002e-10;

/** The natural logarithm of ten: what "a tenth of the difference is left" needs. */
export const LN10 = 2.302585092994046;

/** eˣ − 1 for |x| ≤ 0.35, by its Taylor series: 0.35¹⁵/15! is below 1e-18, so the sum is exact to rounding. */
function smallExpm1(x: number): number {
  let sum = 1;
  for (let n = 14; n > 1; n--) sum = 1 + (x / n) * sum;
  return x * sum;
}

/** 2ᵏ for a whole k, exact as long as it is a normal number. */
function powerOfTwo(k: number): number {
  let base = k < 0 ? 0.5 : 2;
  let left = k < 0 ? -k : k;
  let result = 1;
  while (left > 0) {
    if (left % 2 === 1) result *= base;
    base *= base;
    left = Math.floor(left / 2);
  }
  return result;
}

/**
 * eˣ, to about one unit in the last place; 0 below −700.
 * @example
 * ```ts
 * exp(1) // 2.7182818284590455, the same bits in every engine
 * ```
 */
export function exp(x: number): number {
  if (x < -700) return 0;
  const k = Math.floor(x / (LN2_HIGH + LN2_LOW) + 0.5);
  const rest = x - k * LN2_HIGH - k * LN2_LOW;
  return (1 + smallExpm1(rest)) * powerOfTwo(k);
}

/** 1 − e⁻ᶻ for z ≥ 0, without the cancellation that small z would bring. */
export function shed(z: number): number {
  return z < 0.35 ? -smallExpm1(-z) : 1 - exp(-z);
}

/**
 * The natural logarithm of x > 0, by the series of 2·artanh((m − 1)/(m + 1)) with m in [√½, √2).
 * @example
 * ```ts
 * ln(10) // 2.302585092994046
 * ```
 */
export function ln(x: number): number {
  let m = x;
  let k = 0;
  while (m >= 1.4142135623730951) {
    m *= 0.5;
    k++;
  }
  while (m < 0.7071067811865476) {
    m *= 2;
    k--;
  }
  const s = (m - 1) / (m + 1);
  const square = s * s;
  let sum = 0;
  for (let n = 23; n >= 1; n -= 2) sum = sum * square + 1 / n;
  return k * LN2_HIGH + (2 * s * sum + k * LN2_LOW);
}

const RADIANS = 0.017453292519943295;

/**
 * Sine of an angle in degrees, within ±90, by its Taylor series: the last term left out is below 1e-19.
 * @example
 * ```ts
 * sine(0) // 0
 * ```
 */
export function sine(degrees: number): number {
  const x = degrees * RADIANS;
  const square = x * x;
  let sum = 1;
  for (let n = 24; n > 0; n -= 2) sum = 1 - (square / (n * (n + 1))) * sum;
  return x * sum;
}

/** Tangent of an angle in degrees, from 0 to below 90. */
export function tangent(degrees: number): number {
  return sine(degrees) / sine(90 - degrees);
}
