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

/** The nearest whole number by a mode of section 8, of what is not negative. */
export function roundTo(x: Q, mode: 'half-up' | 'half-even' | 'down'): bigint {
  const whole = x.n / x.d;
  const half = cmp(sub(x, q(whole)), q(1n, 2n));
  const up = (mode === 'half-up' && half >= 0) || (mode === 'half-even' && (half > 0 || (half === 0 && whole % 2n === 1n))); // prettier-ignore
  return up ? whole + 1n : whole;
}

/** So many digits after the point. */
export function digits(whole: bigint, decimals: number): string {
  const all = whole.toString().padStart(decimals + 1, '0');
  return decimals === 0 ? all : `${all.slice(0, -decimals)}.${all.slice(-decimals)}`;
}

/** The piecewise line of section 4. */
export function through(points: readonly (readonly [number, number])[], x: Q): Q {
  const line = points.map(([a, b]) => [num(a), num(b)] as const);
  const after = line.findIndex(([a]) => cmp(x, a) <= 0);
  if (after === -1) return line[line.length - 1]![1];
  if (after === 0) return line[0]![1];
  const [x1, y1] = line[after - 1]!;
  const [x2, y2] = line[after]!;
  return add(y1, mul(sub(x, x1), div(sub(y2, y1), sub(x2, x1))));
}
