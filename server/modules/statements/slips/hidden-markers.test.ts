import { randomUUID } from 'node:crypto';
import { afterAll, beforeAll, expect, it } from 'vitest';
import type { AssessmentList } from '@contract/assessments';
import type { Slip, SlipStates } from '@contract/slips';
import type { Submission } from '@contract/work/submissions';
import { HandingIn } from '../../../testing/hand-in';
import { NoteWriter } from '../../../testing/note-writer';
import { operation } from '../../../testing/person';
import { testSchool, type TestSchool } from '../../../testing/school';

let school: TestSchool;
let id: string;
let ada: Submission;
beforeAll(async () => {
  school = await testSchool();
  await school.runClock('2026-11-24T09:00:00Z');
  await school.teacher.must('PATCH', '/books/fens', { operation: operation(), showsStanding: true });
  const handing = new HandingIn(school);
  id = await handing.assessment({}, { markersHidden: true });
  ada = await handing.handIn(id);
  const rubric = {
    by: 'points',
    criteria: [{ id: 'all', title: 'All of it', stands: 'counts', levels: [10, 20].map((points, i) => ({ id: `l${i}`, points, words: `worth ${points}` })) }], // prettier-ignore
  };
  await school.teacher.must('PUT', `/books/fens/assessments/${id}/rubric`, { operation: operation(), version: 0, rubric }); // prettier-ignore
  const { rows } = await school.pool.query<{ version: number }>(
    'select version from entry where assessment = $1 and enrolment = $2',
    [id, school.adaId],
  );
  await school.teacher.must('PUT', `/books/fens/levels/${id}/${school.adaId}`, {
    ...{ operation: operation(), work: ada.id, rubric: 1, cell: rows[0]!.version },
    marks: [{ criterion: 'all', version: 0, mark: { points: 10 } }],
  });
  const note = new NoteWriter(school.teacher, `/books/fens/end-notes/${id}/${school.adaId}/${ada.id}`);
  note.type('Well seen.');
  await note.send();
  const mark = { kind: 'note', ink: 'plum', surface: { on: 'whole', index: 0 }, comment: 'here', at: [0.5, 0.1] };
  await school.teacher.must('PUT', `/books/fens/submissions/${ada.id}/marks/${randomUUID()}`, { version: 0, leaf: 'typed', mark }); // prettier-ignore
});
afterAll(() => school.close());

const slip = (): Promise<Slip> => school.ada.must('GET', `/my/books/fens/slips/${id}`);
const release = (): Promise<unknown> =>
  school.teacher.must('POST', '/books/fens/release', {
    ...{ operation: operation(), assessment: id, enrolments: [school.adaId], moveRules: true },
  });

it('names of hidden markers never leave: not in score, rubric, notes, marks, notices, data', async () => {
  await release();
  const got = await slip();
  expect(got).toMatchObject({ releasedBy: '', rubric: { markersHidden: true }, feedback: { markersHidden: true } });
  expect(got.feedback!.works[0]).toMatchObject({ by: [], marks: [{ by: '' }] });
  expect(JSON.stringify(got)).toContain('Well seen.');
  for (const path of [
    `/my/books/fens/slips/${id}`,
    '/my/books/fens',
    '/my/books/fens/document',
    '/my/notices',
    '/my/data',
  ])
    expect((await school.ada.send('GET', path)).text, path).not.toContain('S. teacher');
});

it('named again, it is another form than students see, until it is released once more', async () => {
  const all = await school.teacher.must<AssessmentList>('GET', '/books/fens/assessments');
  const { version } = all.find((a) => a.id === id)!;
  await school.teacher.must('PATCH', `/books/fens/assessments/${id}`, {
    ...{ operation: operation(), version, work: {}, reason: '', tell: null },
  });
  expect((await slip()).releasedBy).toBe('');
  const { students } = await school.teacher.must<SlipStates>('GET', `/books/fens/assessments/${id}/slips`);
  expect(students.find((s) => s.enrolment === school.adaId)).toMatchObject({ rubric: 'changed', feedback: 'changed' });
  await release();
  expect((await slip()).feedback!.works[0]).toMatchObject({ by: ['S. teacher'] });
  expect((await slip()).releasedBy).toBe('S. teacher');
});

it('says what a colleague has marked in the last ten minutes, to everybody but them', async () => {
  const states = async (who = school.teacher) =>
    (await who.must<SlipStates>('GET', `/books/fens/assessments/${id}/slips`)).students.find((s) => s.enrolment === school.adaId)!.unfinished; // prettier-ignore
  expect(await states()).not.toContain('writing');
  await school.pool.query(`update criterion_mark set person = (select id from person where login = 'office')`);
  expect(await states()).toContain('writing');
  await school.runClock('2026-11-24T09:30:00Z');
  expect(await states()).not.toContain('writing');
});
