import type { CellChange } from '@core/book/change';
import { attemptsWords, changeWords, placeWords, pointsWords, whoWords } from './act-words';

const ZONE = 'Europe/Dublin';

describe('what an act does, in words', () => {
  it.each<[CellChange, string]>([
    [{ kind: 'state', state: 'excused' }, 'excused'],
    [{ kind: 'state', state: 'awaiting' }, 'awaited'],
    [{ kind: 'attempt', made: { score: 11 } }, 'one more attempt: 11'],
    [{ kind: 'attempt', made: { mark: 'pass' } }, 'one more attempt: pass'],
    [{ kind: 'late', units: 0 }, 'on time'],
    [{ kind: 'due', dueAt: null }, 'no due date of its own'],
    [{ kind: 'due', dueAt: '2026-11-27T17:00:00Z' }, 'due 27 Nov 17:00'],
    [{ kind: 'set', points: null }, 'no score set by hand'],
    [{ kind: 'set', points: 14 }, '14, as it stands'],
    [{ kind: 'allowances', count: 2 }, '2 late allowances'],
    [{ kind: 'protect', on: false }, 'kept no more than the rules say'],
  ])('%j', (change, words) => expect(changeWords(change, ZONE)).toBe(words));

  it('says whom and what it is about', () => {
    expect(placeWords(['Farrelly, Con'], ['Soil pit'], 1)).toBe('Farrelly, Con · Soil pit');
    expect(placeWords(['a', 'b'], ['Soil pit'], 2)).toBe('2 students · Soil pit');
    expect(placeWords(['a', 'b'], ['Soil pit', 'Check 1'], 4)).toBe('4 cells of 2 assessments');
    expect(whoWords(['a', 'b', 'c'])).toBe('3 students');
  });

  it('says what becomes of scores by an example of its own points', () => {
    expect(pointsWords({ kind: 'points', points: 50, scores: 'keep-points' }, 20)).toContain(
      '10 of 20 becomes 10 of 50',
    );
    expect(pointsWords({ kind: 'points', points: 50, scores: 'keep-percentages' }, 20)).toContain('10 of 20 becomes 25 of 50'); // prettier-ignore
  });

  it('says of every way of using attempts which counts', () => {
    expect(attemptsWords()).toBe('Of the attempts the best counts.');
    expect(attemptsWords('decaying')).toBe('Of the attempts the newest counts most.');
    expect(attemptsWords('regain')).toBe('The first attempt counts, with what later ones win back.');
  });
});
