import type { PartState, SlipState, SlipStates } from '@contract/slips';
import { beforeRelease, isNews, partWords } from './before-release';

const NOW = { score: '0'.repeat(16), rubric: '0'.repeat(16), feedback: '0'.repeat(16) };
const state = (enrolment: string, score: PartState, feedback: PartState, more: Partial<SlipState> = {}): SlipState => ({
  ...{
    enrolment,
    score,
    feedback,
    rubric: 'none',
    unfinished: [],
    now: NOW,
    releasedAt: null,
    told: null,
    mailed: null,
  },
  ...{ opened: null, played: null, fetched: null },
  ...more,
});
const STATES: SlipStates = {
  rubric: false,
  students: [
    state('a', 'released', 'released'),
    state('b', 'draft', 'draft', { unfinished: ['second-look'] }),
    state('c', 'changed', 'none', { unfinished: ['no-feedback', 'second-look'] }),
    state('d', 'none', 'none'),
  ],
};

describe('before a release', () => {
  it('says who has what, who is left out, and what looks unfinished of those picked', () => {
    expect(beforeRelease(STATES, new Set(['a', 'b']), ['score', 'feedback'])).toEqual({
      have: { score: 2, rubric: 0, feedback: 2 },
      ...{ having: ['a', 'b'], unscored: [] },
      leftOut: ['c'],
      unfinished: [{ what: 'second-look', enrolments: ['b'] }],
    });
    expect(beforeRelease(STATES, new Set(['b', 'c']), ['feedback'])).toEqual({
      have: { score: 2, rubric: 0, feedback: 1 },
      ...{ having: ['b'], unscored: [] },
      leftOut: [],
      unfinished: [
        { what: 'no-feedback', enrolments: ['c'] },
        { what: 'second-look', enrolments: ['b', 'c'] },
      ],
    });
  });

  it('counts those without a score apart: they see that there is none', () => {
    const those = beforeRelease(STATES, new Set(['b', 'd']), ['score', 'feedback']);
    expect(those).toMatchObject({ having: ['b'], unscored: ['d'], have: { score: 1 } });
    expect(beforeRelease(STATES, new Set(['d']), ['feedback'])).toMatchObject({ having: [], unscored: [] });
    expect(partWords(['score'], { score: 0, rubric: 0, feedback: 0 })).toBe('');
  });

  it('knows what is new to students, of some parts alone', () => {
    expect(STATES.students.map((s) => isNews(s))).toEqual([false, true, true, false]);
    expect(STATES.students.map((s) => isNews(s, ['feedback']))).toEqual([false, true, false, false]);
  });

  it('names only the parts that somebody has', () => {
    expect(partWords(['score', 'rubric', 'feedback'], { score: 2, rubric: 0, feedback: 1 })).toBe(
      'score with its working and feedback',
    );
    expect(partWords(['score', 'rubric', 'feedback'], { score: 2, rubric: 2, feedback: 1 })).toBe(
      'score with its working, rubric and feedback',
    );
  });
});
