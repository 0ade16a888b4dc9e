import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import * as f from './fraction';
import { roundedText, shortText } from './rounding';

const arb = fc
  .tuple(fc.bigInt({ min: -(2n ** 70n), max: 2n ** 70n }), fc.bigInt({ min: 1n, max: 2n ** 66n }))
  .map(([n, d]) => f.fraction(n, d));
const small = fc
  .tuple(fc.integer({ min: -9999, max: 9999 }), fc.integer({ min: 1, max: 999 }))
  .map(([n, d]) => f.fraction(n, d));
const any = fc.oneof(arb, small);
const cross = (a: f.Fraction, b: f.Fraction): boolean => BigInt(a.n) * BigInt(b.d) === BigInt(b.n) * BigInt(a.d);

describe('exact fractions', () => {
  it('add and subtract back, multiply and divide back', () => {
    fc.assert(
      fc.property(any, any, (a, b) => {
        expect(f.equal(f.subtract(f.add(a, b), b), a)).toBe(true);
        if (!f.isZero(b)) expect(f.equal(f.divide(f.multiply(a, b), b), a)).toBe(true);
      }),
    );
  });

  it('are what plain cross-multiplication gives', () => {
    fc.assert(
      fc.property(any, any, (a, b) => {
        const sum = { n: BigInt(a.n) * BigInt(b.d) + BigInt(b.n) * BigInt(a.d), d: BigInt(a.d) * BigInt(b.d) };
        expect(cross(f.add(a, b), sum)).toBe(true);
        expect(Math.sign(f.compare(a, b))).toBe(
          Math.sign(Number(BigInt(a.n) * BigInt(b.d) - BigInt(b.n) * BigInt(a.d))),
        );
      }),
    );
  });

  it('stay in lowest terms, in small integers wherever these hold them', () => {
    fc.assert(
      fc.property(any, any, (a, b) => {
        const r = f.multiply(a, b);
        const [n, d] = [BigInt(r.n), BigInt(r.d)];
        const gcd = (x: bigint, y: bigint): bigint => (y === 0n ? x : gcd(y, x % y));
        expect(gcd(n < 0n ? -n : n, d)).toBe(1n);
        const fits =
          n <= BigInt(Number.MAX_SAFE_INTEGER) &&
          -n <= BigInt(Number.MAX_SAFE_INTEGER) &&
          d <= BigInt(Number.MAX_SAFE_INTEGER);
        expect(typeof r.n === 'number').toBe(fits);
      }),
    );
  });

  it('read a number as its shortest decimal', () => {
    expect(f.toText(f.fromNumber(0.1))).toBe('1/10');
    expect(f.toText(f.fromNumber(71.6667))).toBe('716667/10000');
    expect(f.toText(f.fromNumber(1e-7))).toBe('1/10000000');
    expect(f.toText(f.fromNumber(1e21))).toBe('1000000000000000000000');
    fc.assert(
      fc.property(
        fc.integer({ min: 0, max: 10 ** 13 }),
        (n) => void expect(f.toNumber(f.fromNumber(n / 10_000))).toBe(n / 10_000),
      ),
    );
  });

  it('write and read themselves', () => {
    fc.assert(fc.property(any, (a) => void expect(f.equal(f.parse(f.toText(a)), a)).toBe(true)));
    expect(() => f.parse('1.5')).toThrow(SyntaxError);
    expect(() => f.divide(f.ONE, f.ZERO)).toThrow(RangeError);
  });
});

describe('rounding', () => {
  const half = f.fraction(5, 100);
  it.each([
    [half, 1, 'half-up', '0.1'],
    [half, 1, 'half-even', '0.0'],
    [f.fraction(15, 100), 1, 'half-even', '0.2'],
    [f.fraction(199, 100), 1, 'down', '1.9'],
    [f.fraction(1795, 20), 0, 'half-up', '90'],
    [f.fraction(2, 3), 4, 'half-up', '0.6667'],
    [f.fraction(7, 1), 2, 'down', '7.00'],
  ] as const)('%o to %i decimals %s is %s', (a, decimals, mode, text) =>
    expect(roundedText(a, decimals, mode)).toBe(text),
  );

  it('never moves a figure by more than half a digit, and down never up', () => {
    fc.assert(
      fc.property(small, fc.integer({ min: 0, max: 4 }), (a, decimals) => {
        const size = f.fraction(BigInt(a.n) < 0n ? -BigInt(a.n) : BigInt(a.n), a.d);
        const up = f.subtract(f.fromText(roundedText(size, decimals, 'half-up')), size);
        expect(f.compare(f.multiply(up, f.fraction(2 * 10 ** decimals)), f.ONE)).toBeLessThanOrEqual(0);
        expect(f.compare(f.fromText(roundedText(size, decimals, 'down')), size)).toBeLessThanOrEqual(0);
      }),
    );
  });

  it('short figures have no needless zeros', () => {
    expect([f.fraction(17), f.fraction(25, 2), f.fraction(215, 3), f.fraction(100)].map((a) => shortText(a))).toEqual([
      '17',
      '12.5',
      '71.67',
      '100',
    ]);
  });
});
