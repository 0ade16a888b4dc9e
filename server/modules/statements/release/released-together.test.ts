import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { Released, ReleasePreview, StudentBook } from '@contract/statements';
import { operation } from '../../../testing/person';
import { testSchool, type TestSchool } from '../../../testing/school';

let school: TestSchool;
beforeAll(async () => {
  school = await testSchool();
  await school.teacher.must('PATCH', '/books/fens', { operation: operation(), showsStanding: true });
  await school.put('moss', school.adaId, 0, { kind: 'score', points: 16 });
  await school.put('reed', school.adaId, 0, { kind: 'score', points: 3.75 });
  await school.put('reed', school.benId, 0, { kind: 'score', points: 2 });
});
afterAll(() => school.close());

const released = async (): Promise<string[]> =>
  (await school.ada.must<StudentBook>('GET', '/my/books/fens')).work.flatMap((w) => (w.score ? [w.id] : [])).sort();
const together = (): object => ({
  assessment: 'moss',
  enrolments: [school.adaId],
  moveRules: true,
  also: [{ assessment: 'reed', enrolments: [school.adaId, school.benId] }],
});

/** The digest of something that is another by now. */
const LOOKED = '0123456789abcdef';

describe('assessments released together', () => {
  it('are looked at together: each standing once, as it stands after all of them', async () => {
    const { lines } = await school.teacher.must<ReleasePreview>('POST', '/books/fens/release/preview', together());
    expect(lines.map((l) => l.enrolment).sort()).toEqual([school.adaId, school.benId].sort());
    const own = lines.find((l) => l.enrolment === school.adaId)!;
    await school.teacher.must('POST', '/books/fens/release', { operation: operation(), ...together() });
    expect((await school.ada.must<StudentBook>('GET', '/my/books/fens')).standing).toMatchObject(own.after);
    expect(await released()).toEqual(['moss', 'reed']);
  });

  it('are withdrawn together, once, and counted by their students', async () => {
    const op = operation();
    const gone = await school.teacher.must<Released>('POST', '/books/fens/withdraw', {
      operation: op,
      ...withdrawal(),
    });
    expect(gone.people).toBe(2);
    expect(await school.teacher.must('POST', '/books/fens/withdraw', { operation: op, ...withdrawal() })).toEqual(gone);
    expect(await released()).toEqual([]);
    const nothing = await school.teacher.send('POST', '/books/fens/withdraw', { operation: operation(), ...withdrawal() }); // prettier-ignore
    expect(nothing.status).toBe(400);
  });

  it('go all or none: one that is another by now holds back the other, and none is named twice', async () => {
    const stale = await school.teacher.send('POST', '/books/fens/release', {
      operation: operation(),
      assessment: 'moss',
      enrolments: [school.adaId],
      moveRules: true,
      also: [
        {
          assessment: 'reed',
          enrolments: [school.benId],
          seen: [{ enrolment: school.benId, score: LOOKED, rubric: LOOKED, feedback: LOOKED }],
        },
      ],
    });
    expect(stale.status).toBe(409);
    expect(await released()).toEqual([]);
    const twice = await school.teacher.send('POST', '/books/fens/release', {
      ...{ operation: operation(), ...together() },
      also: [{ assessment: 'moss', enrolments: [school.benId] }],
    });
    expect(twice.status).toBe(400);
    expect(await released()).toEqual([]);
  });
});

const withdrawal = (): object => ({
  assessment: 'moss',
  enrolments: [school.adaId],
  also: [{ assessment: 'reed', enrolments: [school.adaId, school.benId] }],
});
