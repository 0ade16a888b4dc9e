/** Fractions of big integers in lowest terms, and nothing else: for reading the contract plainly. */
export type Q = { n: bigint; d: bigint };

const gcd = (a: bigint, b: bigint): bigint => (b === 0n ? a : gcd(b, a % b));
export function q(n: bigint, d: bigint = 1n): Q {
  const sign = d < 0n ? -1n : 1n;
  const g = gcd(n < 0n ? -n : n, d < 0n ? -d : d) || 1n;
  return { n: (sign * n) / g, d: (sign * d) / g };
}
export const add = (a: Q, b: Q): Q => q(a.n * b.d + b.n * a.d, a.d * b.d);
export const sub = (a: Q, b: Q): Q => q(a.n * b.d - b.n * a.d, a.d * b.d);
export const mul = (a: Q, b: Q): Q => q(a.n * b.n, a.d * b.d);
export const div = (a: Q, b: Q): Q => q(a.n * b.d, a.d * b.n);
export const cmp = (a: Q, b: Q): number => {
  const l = a.n * b.d;
  const r = b.n * a.d;
  return l < r ? -1 : l > r ? 1 : 0;
};
export const max = (a: Q, b: Q): Q => (cmp(a, b) >= 0 ? a : b);
export const min = (a: Q, b: Q): Q => (cmp(a, b) <= 0 ? a : b);
export const sum = (list: Q[]): Q => list.reduce(add, q(0n));
export const ZERO = q(0n);
export const HUNDRED = q(100n);

/** The shortest decimal that reads back as the number. */
export function num(x: number): Q {
  const m = /^(-?)(\d+)(?:\.(\d+))?(?:e([+-]\d+))?$/.exec(String(x))!;
  const decimals = m[3] ?? '';
  const exponent = BigInt(m[4] ?? 0) - BigInt(decimals.length);
  const digits = BigInt(`${m[1]}${m[2]}${decimals}`);
  return exponent >= 0n ? q(digits * 10n ** exponent) : q(digits, 10n ** -exponent);
}
export const pct = (x: number): Q => div(num(x), HUNDRED);
export const text = (a: Q): string => (a.d === 1n ? `${a.n}` : `${a.n}/${a.d}`);
