import { describe, expect, it } from 'vitest';
import { assembleBook, assembleSkeleton } from './assemble';
import { checkBook } from './checks/check';
import { firstRules, readCategories } from './first-rules';

describe('the first rules of a book', () => {
  it('are sound for any categories that can be read', () => {
    for (const text of [
      'Field work 40, Checks 60',
      'Final survey 100 %',
      'A 1; B 2\nC 3',
      'Été 50, Ete 50',
      'Lab 2 10, 物理 90',
    ]) {
      const read = readCategories(text);
      if ('message' in read) throw new Error(read.message);
      const book = assembleBook(
        assembleSkeleton('Europe/Dublin', firstRules(read.categories), []),
        '2026-11-24T09:00:00Z',
        [],
        [],
      );
      expect(checkBook(book)).toMatchObject({ ok: true });
    }
    expect(readCategories('Été 50, Ete 50')).toMatchObject({ categories: [{ id: 'ete' }, { id: 'ete-2' }] });
    expect(readCategories('Lab 2 10')).toMatchObject({ categories: [{ title: 'Lab 2', weight: 10 }] });
  });

  it('say which piece cannot be read', () => {
    expect(readCategories('Field work 40, Checks')).toEqual({
      message: '“Checks” is no category with its weight, such as “Field work 40”.',
    });
    expect(readCategories(' ')).toMatchObject({ message: expect.stringContaining('at least one') as string });
    expect(readCategories('A 0')).toMatchObject({ message: expect.stringContaining('above 0') as string });
  });
});
