import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { Undelivered } from '@contract/mail';
import type { Desk } from '@contract/overview';
import type { LiveEvent } from '@contract/presence';
import type { Submission } from '@contract/work/submissions';
import type { Thread } from '@contract/work/threads';
import type { HandingIn } from '../../testing/hand-in';
import { hiddenWork, SCORE, type HiddenWork } from '../../testing/hidden-work';
import { listen, operation, Person } from '../../testing/person';
import { PASSWORD, type TestSchool } from '../../testing/school';

let work: HiddenWork;
let school: TestSchool;
let handing: HandingIn;
let id: string;
let ada: Submission;
let veiled: string;
let alias: string;

beforeAll(async () => {
  work = await hiddenWork();
  ({ school, handing, id, ada, veiled, alias } = work);
});
afterAll(() => school.close());

describe('names that are hidden, where something is told by itself', () => {
  it('are not told by what is refused either', async () => {
    const stale = await school.teacher.send('PUT', `/books/${veiled}/entries/${id}/${alias}`, {
      ...{ operation: operation(), version: 1, change: { kind: 'score', points: 3 } },
    });
    expect(stale.status).toBe(409);
    expect(stale.text).toContain(alias);
    expect(stale.text).not.toContain(school.adaId);
  });

  it('are in no file that is told of where something is refused, and in no receipt that reached nobody', async () => {
    const cleo = await Person.signedIn(school.address, 'cleo', PASSWORD);
    const begun = await handing.addFile(id, 'cleo-crane.txt', Buffer.from('half of it'), cleo, 4);
    const refused = await school.teacher.send('POST', `/books/${veiled}/submissions/${begun.id}/accept`, {
      ...{ operation: operation(), version: begun.version - 1, reason: 'as it is' },
    });
    expect([refused.status, refused.text.includes('file 1.txt'), refused.text.includes('cleo')]).toEqual([409, true, false]); // prettier-ignore
    await cleo.must('DELETE', `${handing.at(id)}/files/${begun.files[0]!.id}`);
    await school.pool.query(`update mail set state = 'refused', fault = 'no such box' where kind = 'receipt'`);
    const mails = await school.office.must<Undelivered>('GET', '/undelivered');
    const receipts = mails.mails.filter((m) => m.kind === 'receipt');
    expect(receipts.length).toBeGreaterThan(1);
    for (const m of receipts) expect([m.subject, m.madeAt]).toEqual(['A receipt', expect.stringMatching(/T00:00:00/)]);
  });

  it('stay hidden on the live stream: by name nothing is told, through the veil by alias alone', async () => {
    const named = await listen<LiveEvent>(school.teacher, '/events?book=fens');
    const marking = await listen<LiveEvent>(school.coTeacher, `/events?book=${veiled}`);
    for (const told of [named, marking]) await told.until((e) => e.kind === 'hello');
    const hello = (await marking.until((e) => e.kind === 'hello')) as LiveEvent & { kind: 'hello' };
    await school.coTeacher.must('PUT', `/books/${veiled}/place`, {
      ...{ connection: hello.connection, enrolment: alias, assessment: id },
    });
    await work.scored(SCORE, 2);
    await work.scored(SCORE - 1, 3);
    await school.marker.must('POST', `/books/${veiled}/submissions/${ada.id}/opened`, { through: true });
    const cleo = await Person.signedIn(school.address, 'cleo', PASSWORD);
    await handing.handIn(id, cleo, 'words of a third');
    // A change by name comes after all of it.
    await school.put('reed', school.benId, 0, { kind: 'score', points: 9 });
    const told = await marking.until((e) => e.kind === 'opened');
    expect(told).toMatchObject({ book: veiled, enrolment: alias });
    await marking.until((e) => e.kind === 'cells' && e.by.includes('the student'));
    await named.until((e) => e.kind === 'cells' && e.cells.some((c) => c.assessment === 'reed'));
    const words = JSON.stringify(named.events);
    for (const secret of [id, alias, ada.id]) expect(words).not.toContain(secret);
    expect(JSON.stringify(marking.events)).not.toMatch(new RegExp(`${school.adaId}|${school.benId}|reed|Adler|Birch`));
    named.close();
    marking.close();
  });

  it('name nobody to the staff in what they are told of work and questions', async () => {
    const { rows } = await school.pool.query<{ text: string; path: string }>(
      `select body as text, path from notice where kind in ('arrival', 'question') and path like $1`,
      [`%${id}%`],
    );
    expect(new Set(rows.map((r) => r.text))).toEqual(
      new Set(['Somebody asks about Work 1.', 'Somebody handed in Work 1.']),
    );
    expect(rows.every((r) => r.path === `/book/fens/marking/${id}`)).toBe(true);
    expect((await school.teacher.send('GET', '/my/notices')).text).not.toMatch(/Adler|Birch/);
    expect((await school.marker.must<Desk>('GET', '/desk')).secondLooks).toEqual([
      expect.objectContaining({
        book: veiled,
        enrolment: alias,
        message: expect.stringMatching(/^Reed \d\d · Work 1$/),
      }),
    ]);
    const desk = await school.teacher.must<Desk>('GET', '/desk');
    const asked = desk.questions.find((q) => q.assessment === id)!;
    expect([asked.book, asked.enrolment, asked.whose]).toEqual([veiled, alias, expect.stringMatching(/^Reed \d\d$/)]);
    const at = `/books/${asked.book}/assessments/${id}/threads/${asked.enrolment}`;
    const thread = await school.teacher.must<Thread>('GET', at);
    expect(thread.messages.map((m) => [m.by, m.text])).toEqual([['the student', 'words of a question']]);
  });
});
