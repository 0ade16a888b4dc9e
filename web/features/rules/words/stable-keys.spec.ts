import { describe, expect, it } from 'vitest';
import { keyedAnew, pieceKeys } from './stable-keys';

const list = (...ids: string[]) => ids.map((id) => ({ id }));
const keys = (now: string[], before: string[]): string[] =>
  keyedAnew(list(...now), keyedAnew(list(...before), [])).map((k) => k.key);

describe('keys of what is drawn again', () => {
  it('stay with what kept its id, wherever it stands now', () => {
    expect(keys(['b', 'a'], ['a', 'b'])).toEqual(['b', 'a']);
    expect(keys(['new', 'a', 'b'], ['a', 'b'])).toEqual(['new', 'a', 'b']);
    expect(keys(['b'], ['a', 'b'])).toEqual(['b']);
  });

  it('stay at their place under another name', () => {
    expect(keys(['new', 'marks words', 'mark words 0'], ['new', 'marks marks', 'mark marks 0'])).toEqual([
      'new',
      'marks marks',
      'mark marks 0',
    ]);
  });

  it('are never the same for two, also after names went round', () => {
    let drawn = keyedAnew(list('a', 'b'), []);
    for (const ids of [
      ['c', 'b'],
      ['c', 'a'],
      ['a', 'c'],
      ['a', 'b', 'c'],
      ['b', 'x', 'a'],
    ]) {
      drawn = keyedAnew(list(...ids), drawn);
      expect(new Set(drawn.map((k) => k.key)).size).toBe(ids.length);
    }
  });

  it('of pieces are told by kind and place', () => {
    expect(pieceKeys(['text', 'number', 'text', 'number', 'act'])).toEqual([
      'text 0',
      'number 0',
      'text 1',
      'number 1',
      'act 0',
    ]);
  });
});
