/**
 * Exact fractions. A fraction is kept in lowest terms with a positive denominator. Small ones are held in plain
 * integers (at most 2^53 − 1), which is what almost every grade needs; anything larger moves to bigint by itself.
 * Every result equals that of infinitely precise arithmetic (contract, introduction).
 */
export interface Fraction {
  readonly n: number | bigint;
  readonly d: number | bigint;
}

const SAFE = Number.MAX_SAFE_INTEGER;
const SAFE_BIG = BigInt(SAFE);

export const ZERO: Fraction = { n: 0, d: 1 };
export const ONE: Fraction = { n: 1, d: 1 };
export const HUNDRED: Fraction = { n: 100, d: 1 };

function gcdSmall(a: number, b: number): number {
  while (b !== 0) [a, b] = [b, a % b];
  return a;
}

function gcdBig(a: bigint, b: bigint): bigint {
  while (b !== 0n) [a, b] = [b, a % b];
  return a;
}

function fromBig(n: bigint, d: bigint): Fraction {
  if (d < 0n) [n, d] = [-n, -d];
  const g = gcdBig(n < 0n ? -n : n, d);
  if (g > 1n) {
    n /= g;
    d /= g;
  }
  const small = n <= SAFE_BIG && n >= -SAFE_BIG && d <= SAFE_BIG;
  return small ? { n: Number(n), d: Number(d) } : { n, d };
}

/** n / d in lowest terms. Throws a RangeError on a zero denominator: a caller that can meet one must ask first. */
export function fraction(n: number | bigint, d: number | bigint = 1): Fraction {
  if (d == 0) throw new RangeError('a fraction cannot have a zero denominator');
  if (typeof n === 'bigint' || typeof d === 'bigint') return fromBig(BigInt(n), BigInt(d));
  if (!Number.isSafeInteger(n) || !Number.isSafeInteger(d)) return fromBig(BigInt(n), BigInt(d));
  if (d < 0) [n, d] = [-n, -d];
  const g = gcdSmall(Math.abs(n), d);
  return g > 1 ? { n: n / g, d: d / g } : { n: n === 0 ? 0 : n, d };
}

/**
 * The exact value of a number as the contract reads it: the shortest decimal that gives the same double.
 * Takes any finite number.
 */
export function fromNumber(x: number): Fraction {
  if (Number.isSafeInteger(x)) return { n: x, d: 1 };
  // Up to four decimals and a magnitude of 10^9, x × 10^4 rounds to the wanted integer; anything else is read as text.
  const scaled = Math.round(x * 10_000);
  if (Math.abs(x) <= 1e9 && scaled / 10_000 === x) return fraction(scaled, 10_000);
  return fromText(String(x));
}

/** The exact value of a decimal text such as "17.25" or "1e-7". Throws a SyntaxError on anything else. */
export function fromText(text: string): Fraction {
  const m = /^(-?)(\d+)(?:\.(\d*))?(?:e([+-]?\d+))?$/i.exec(text);
  if (!m) throw new SyntaxError(`"${text}" is not a decimal number`);
  const decimals = m[3] ?? '';
  const exponent = Number(m[4] ?? 0) - decimals.length;
  const digits = BigInt(m[1]! + m[2]! + decimals);
  return exponent >= 0 ? fromBig(digits * 10n ** BigInt(exponent), 1n) : fromBig(digits, 10n ** BigInt(-exponent));
}

export function add(a: Fraction, b: Fraction): Fraction {
  if (typeof a.n === 'number' && typeof b.n === 'number' && typeof a.d === 'number' && typeof b.d === 'number') {
    if (a.d === b.d) {
      const n = a.n + b.n;
      if (n <= SAFE && n >= -SAFE) return a.d === 1 ? { n, d: 1 } : fraction(n, a.d);
    } else {
      const left = a.n * b.d;
      const right = b.n * a.d;
      const d = a.d * b.d;
      const n = left + right;
      if (Math.abs(left) <= SAFE && Math.abs(right) <= SAFE && d <= SAFE && Math.abs(n) <= SAFE) return fraction(n, d);
    }
  }
  return fromBig(BigInt(a.n) * BigInt(b.d) + BigInt(b.n) * BigInt(a.d), BigInt(a.d) * BigInt(b.d));
}

export function negate(a: Fraction): Fraction {
  return { n: typeof a.n === 'number' ? (a.n === 0 ? 0 : -a.n) : -a.n, d: a.d };
}

export function subtract(a: Fraction, b: Fraction): Fraction {
  return add(a, negate(b));
}

export function multiply(a: Fraction, b: Fraction): Fraction {
  if (typeof a.n === 'number' && typeof b.n === 'number' && typeof a.d === 'number' && typeof b.d === 'number') {
    const n = a.n * b.n;
    const d = a.d * b.d;
    if (Math.abs(n) <= SAFE && d <= SAFE) return fraction(n, d);
  }
  return fromBig(BigInt(a.n) * BigInt(b.n), BigInt(a.d) * BigInt(b.d));
}

/** a / b. Throws a RangeError where b is 0. */
export function divide(a: Fraction, b: Fraction): Fraction {
  if (b.n == 0) throw new RangeError('division by zero');
  return multiply(a, typeof b.n === 'number' && b.n < 0 ? { n: -b.d, d: -b.n } : ({ n: b.d, d: b.n } as Fraction));
}

/** Negative, 0 or positive as a is less than, equal to or greater than b. */
export function compare(a: Fraction, b: Fraction): number {
  if (typeof a.n === 'number' && typeof b.n === 'number' && typeof a.d === 'number' && typeof b.d === 'number') {
    if (a.d === b.d) return a.n - b.n;
    const left = a.n * b.d;
    const right = b.n * a.d;
    if (Math.abs(left) <= SAFE && Math.abs(right) <= SAFE) return left - right;
  }
  const left = BigInt(a.n) * BigInt(b.d);
  const right = BigInt(b.n) * BigInt(a.d);
  return left < right ? -1 : left > right ? 1 : 0;
}

export const equal = (a: Fraction, b: Fraction): boolean => a.n === b.n && a.d === b.d;
export const isZero = (a: Fraction): boolean => a.n === 0;
export const least = (a: Fraction, b: Fraction): Fraction => (compare(a, b) <= 0 ? a : b);
export const greatest = (a: Fraction, b: Fraction): Fraction => (compare(a, b) >= 0 ? a : b);

/** p percent as a fraction of one: 90 gives 9/10. */
export const percent = (p: number): Fraction => divide(fromNumber(p), HUNDRED);

/** The nearest double, for drawing and sorting only, never for a figure that is shown as exact. */
export function toNumber(a: Fraction): number {
  return Number(a.n) / Number(a.d);
}

/** "437/5", or "90" where it is whole: the form of every `exact` and `earned` field (contract, section 9). */
export function toText(a: Fraction): string {
  return a.d == 1 ? String(a.n) : `${a.n}/${a.d}`;
}

/** Reads what {@link toText} writes. Throws a SyntaxError on anything else. */
export function parse(text: string): Fraction {
  const m = /^(-?\d+)(?:\/(\d+))?$/.exec(text);
  if (!m) throw new SyntaxError(`"${text}" is not a fraction`);
  return fromBig(BigInt(m[1]!), BigInt(m[2] ?? 1));
}
