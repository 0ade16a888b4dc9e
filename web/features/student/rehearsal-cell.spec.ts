import { describe, expect, it } from 'vitest';
import { receivedOf, typedOf, withReceived, withTyped } from './rehearsal-cell';

const POINTS = { points: 20, marks: ['Done', 'Not done'] };
const AT = '2026-11-20T10:00:00Z';

describe('what a made-up student is given', () => {
  it('is typed as in the ledger and shown as it was typed', () => {
    for (const [text, shows] of [
      ['17', '17'],
      ['85%', '17'],
      ['17/20', '17'],
      ['ex', 'excused'],
      ['done', 'Done'],
    ] as const) {
      const read = withTyped({}, text, POINTS);
      expect(read).toHaveProperty('entry');
      expect(typedOf((read as { entry: object }).entry)).toBe(shows);
    }
    expect(withTyped({}, 'seventeen', POINTS)).toHaveProperty('message');
  });

  it('keeps the hand-in under a score and the score under a hand-in, and takes away one alone', () => {
    const scored = withReceived({ attempts: [{ score: 12 }] }, AT);
    expect(scored).toEqual({ attempts: [{ score: 12, receivedAt: AT }] });
    expect(receivedOf(scored)).toBe(AT);
    expect(withReceived(scored, null)).toEqual({ attempts: [{ score: 12 }] });
    expect(withTyped(scored, '', POINTS)).toEqual({ entry: { attempts: [{ receivedAt: AT }] } });
    expect(withReceived({ attempts: [{ receivedAt: AT }] }, null)).toEqual({});
    expect(withReceived({}, null)).toEqual({});
  });
});
