import { attemptsOf } from './attempts';

const row = { key: 1, score: '', mark: '', receivedAt: null, badDay: false, lateUnits: '', onTime: false };

describe('attempts as typed', () => {
  it('are what they say', () => {
    expect(
      attemptsOf([
        { ...row, score: '14,5', lateUnits: '2' },
        { ...row, receivedAt: '2026-11-12T16:00:00.000Z' },
        { ...row, mark: 'Pass', onTime: true },
      ]),
    ).toEqual({
      attempts: [
        { score: 14.5, lateUnits: 2 },
        { receivedAt: '2026-11-12T16:00:00.000Z' },
        { mark: 'Pass', onTime: true },
      ],
    });
  });

  it.each([
    [{ score: 'nine' }, 'Attempt 2: “nine” is no score in points, such as 14.5.'],
    [{ score: '-3' }, 'Attempt 2: “-3” is no score in points, such as 14.5.'],
    [{ badDay: true }, 'Attempt 2: when it came in is no day such as 12 Nov 16:00.'],
    [{ lateUnits: '1.5' }, 'Attempt 2: how late it is said by a whole number, such as 2.'],
    [{ score: '3', mark: 'Pass' }, 'Attempt 2 has points and a mark: take one of them away.'],
  ])('that cannot be read are named: %o', (part, message) => {
    expect(attemptsOf([row, { ...row, ...part }])).toEqual({ message });
  });
});
