import type { ArrivalRow } from '../../../data/work/arrival-rows';
import { hideName, reedNames, withoutName } from './reed-names';

describe('reed names', () => {
  const everybody = Array.from({ length: 21 }, (_, i) => `student-${i}`);

  it('are one for each, the same each time, and others for another assessment', () => {
    const names = reedNames(everybody, 'soil-pit');
    expect(new Set(names.values()).size).toBe(21);
    expect(reedNames([...everybody].reverse(), 'soil-pit')).toEqual(names);
    expect([...names.values()][0]).toMatch(/^Reed \d\d$/);
    const other = reedNames(everybody, 'moss');
    expect(everybody.some((e) => names.get(e) !== other.get(e))).toBe(true);
    // No order of their own shows through.
    const numbers = everybody.map((e) => names.get(e)!);
    expect(numbers).not.toEqual([...numbers].sort());
    expect([...reedNames(Array.from({ length: 120 }, (_, i) => `${i}`), 'x').values()][0]).toBe('Reed 001'); // prettier-ignore
  });

  it('take the place of everything that says whose work it is', () => {
    const file = { id: 'f', name: 'Chidi Ibekwe pit.PDF', bytes: 1 };
    const row = { enrolment: 'e', name: 'Ibekwe, Chidi', section: 'North', parts: 'Chidi Ibekwe pit.PDF', submissions: [{ id: 's', files: [file, { ...file, name: 'notes' }] }] } as unknown as ArrivalRow; // prettier-ignore
    const hidden = hideName(row, 'Reed 04');
    expect(JSON.stringify(hidden)).not.toMatch(/Ibekwe|Chidi|North/);
    expect(hidden.submissions[0]!.files.map((f) => f.name)).toEqual(['file 1.PDF', 'file 2']);
  });

  it.each([
    ['{given}, say how you know.', 'Say how you know.'],
    ['Well argued, {given}.', 'Well argued.'],
    ['Thank you, {given}: more depths.', 'Thank you, more depths.'],
    ['Say how.', 'Say how.'],
  ])('are in no phrase: %s', (words, filled) => {
    expect(withoutName(words)).toBe(filled);
  });
});
