import { describe, expect, it } from 'vitest';
import { SLASH_WORDS, isGoal } from '../editor/slash-words';
import { addressOf, isPageGoal } from './goal-address';

const cell = { student: 's1', item: 'moss' };
const standing = { student: 's1', item: null };

describe('words that lead to another page', () => {
  it('carry the cell they were typed in', () => {
    expect(addressOf('student', 'fens', cell)?.path).toEqual(['/book', 'fens', 'student', 's1']);
    expect(addressOf('attempts', 'fens', cell)?.path).toEqual(['/book', 'fens', 'student', 's1', 'moss']);
    expect(addressOf('exceptions', 'fens', cell)).toEqual({
      path: ['/book', 'fens', 'exceptions'],
      query: { student: 's1', assessment: 'moss' },
    });
    expect(addressOf('again', 'fens', cell)?.query).toEqual({ student: 's1', assessment: 'moss', make: 'open-again' });
    expect(addressOf('rules', 'fens', cell)?.query).toEqual({ of: 'moss' });
    expect(addressOf('mark', 'fens', cell)).toEqual({
      path: ['/book', 'fens', 'marking', 'moss'],
      query: { student: 's1' },
    });
    expect(addressOf('release', 'fens', cell)?.query).toEqual({ assessment: 'moss' });
  });

  it('lead from a standing to what is of no single assessment', () => {
    expect(addressOf('student', 'fens', standing)?.path).toEqual(['/book', 'fens', 'student', 's1']);
    // There are no attempts at a standing: nowhere, and not the page of another thing.
    expect(addressOf('attempts', 'fens', standing)).toBeNull();
    expect(addressOf('mark', 'fens', standing)?.path).toEqual(['/book', 'fens', 'marking']);
    expect(addressOf('rules', 'fens', standing)?.query).toEqual({ of: undefined });
  });

  it('lead nowhere in an empty book where a student is needed', () => {
    expect(addressOf('student', 'fens', null)).toBeNull();
    expect(addressOf('attempts', 'fens', null)).toBeNull();
    expect(addressOf('release', 'fens', null)?.path).toEqual(['/book', 'fens', 'release']);
  });

  it('are each offered among the words of the cells', () => {
    const offered = SLASH_WORDS.map((w) => w.word).filter((w) => isGoal(w) && isPageGoal(w));
    expect(offered.sort()).toEqual(['again', 'attempts', 'exceptions', 'mark', 'release', 'rules', 'student']);
  });
});
