import type { PartState, SlipState } from '@contract/slips';
import { slipWords, visibleWords } from './slip-words';

const NOW = { score: '0'.repeat(16), rubric: '0'.repeat(16), feedback: '0'.repeat(16) };
const slip = (score: PartState, feedback: PartState, more: Partial<SlipState> = {}): SlipState => ({
  ...{ enrolment: 's1', score, feedback, rubric: 'none', unfinished: [], now: NOW, releasedAt: null, told: null },
  ...{ mailed: null, opened: null, played: null, fetched: null },
  ...more,
});
const AT = '2026-11-24T20:44:00Z';
const out = { releasedAt: AT, told: AT };

describe('the words of a slip', () => {
  it.each([
    [slip('none', 'none'), 0, 'nothing yet', ''],
    [slip('draft', 'draft'), 0, 'nothing yet', ''],
    [slip('released', 'released', out), 1, 'all of it', 'told'],
    [slip('released', 'draft', out), 1, 'score alone', 'told'],
    [slip('draft', 'released', { ...out, opened: AT }), 0, 'feedback alone', 'opened 24 Nov 20:44'],
    [
      slip('changed', 'released', { ...out, opened: AT, fetched: AT }),
      2,
      'an earlier form',
      'opened 24 Nov 20:44, file fetched',
    ],
    [slip('released', 'changed', { ...out, told: null }), 1, 'an earlier form', 'not opened'],
  ] as const)('%#', (state, seen, sees, delivered) => {
    expect(slipWords(state, seen, 'UTC')).toMatchObject({ sees, delivered });
  });

  it('say of a class what is seen of it, since when, and why it is not all', () => {
    expect(visibleWords([slip('draft', 'none')], 'UTC')).toBe(
      'Students see nothing of it: it was not released yet, or was withdrawn.',
    );
    const two = [slip('changed', 'released', out), slip('draft', 'none'), slip('released', 'none', out)];
    expect(visibleWords(two, 'UTC')).toBe(
      '2 of 3 students see their score and feedback, last released 24 Nov 20:44, 1 of them an earlier form, since it was changed after.',
    );
  });

  it('name briefly what looks unfinished, and what is beside the score in pencil or in ink', () => {
    const words = slipWords(
      slip('draft', 'released', { unfinished: ['no-feedback', 'waiting', 'second-look'] }),
      0,
      'UTC',
    );
    expect(words.unfinished).toBe('no feedback, second look');
    expect(words.beside).toEqual([{ part: 'feedback', look: 'ink' }]);
  });
});
