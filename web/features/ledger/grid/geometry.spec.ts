import { columnWidth, mustStack, reveal, visible } from './geometry';

describe('the ledger’s window', () => {
  it('shows what is inside, with some beyond, and never outside the sheet', () => {
    expect(visible(0, 260, 26, 400, 4)).toEqual({ first: 0, last: 13 });
    expect(visible(2600, 260, 26, 400, 4)).toEqual({ first: 96, last: 113 });
    expect(visible(99_999, 260, 26, 400, 4).last).toBe(399);
    expect(visible(0, 260, 26, 0, 4).last).toBe(-1);
  });
  it('fits all columns where it can', () => {
    expect(columnWidth(972, 12, 171) * 12 + 171 + 178).toBeLessThanOrEqual(972);
    expect(columnWidth(972, 120, 171)).toBe(62);
  });
  it('puts a deduction over a score where the column is too narrow for both', () => {
    expect([mustStack('9.0', '−4', 62), mustStack('11.75', '−12.5', 62), mustStack('11.75', '', 50)]).toEqual([
      false,
      true,
      false,
    ]);
    expect(mustStack('11.75', '−2.5', 84)).toBe(false);
  });
  it('scrolls no further than needed', () =>
    expect([reveal(0, 100, 50, 26), reveal(0, 100, 90, 26), reveal(200, 100, 150, 26)]).toEqual([0, 16, 150]));
  it('goes on by some more than it must, never past either end', () => {
    const more = { ahead: 52, end: 400 };
    expect(reveal(0, 100, 90, 26, more)).toBe(68);
    expect(reveal(200, 100, 374, 26, more)).toBe(300);
    expect(reveal(200, 100, 150, 26, more)).toBe(98);
    expect(reveal(200, 100, 26, 26, more)).toBe(0);
    expect(reveal(0, 500, 374, 26, more)).toBe(0);
  });
});
