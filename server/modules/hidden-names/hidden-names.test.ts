import { randomUUID } from 'node:crypto';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { BookAnnotations } from '@contract/annotations';
import type { BookPage, Sheet } from '@contract/books';
import type { JournalPage } from '@contract/history';
import type { Marking } from '@contract/work/marking';
import type { EntryState, ExceptionList } from '@contract/scores';
import type { Arrivals, Submission } from '@contract/work/submissions';
import { itemsOf } from '@core/book/document';
import { journalKinds } from '../../journal-kinds';
import { allRoutes } from '../../routes';
import { isBookPermission } from '../../kernel/permissions';
import type { HandingIn } from '../../testing/hand-in';
import { hiddenWork, SCORE, type HiddenWork } from '../../testing/hidden-work';
import { operation, type Person } from '../../testing/person';
import type { TestSchool } from '../../testing/school';
import { Live } from '../presence';

/** What was handed in, given and said of the hidden work: none of it is told by name. */
const OF_THE_WORK = [String(SCORE), 'words of the work', 'words of feedback', 'words of a question', 'words beside'];
/** What says whose it is: none of it is told with the work. */
const OF_THE_PERSON = [/Adler/, /Ada\b/, /Birch/, /\bN1\b/, /tarn\.example/, /north/i, /adler-pit/];

let work: HiddenWork;
let school: TestSchool;
let handing: HandingIn;
let id: string;
let ada: Submission;
let veiled: string;
/** What stands in the place of Ada's id. */
let alias: string;

beforeAll(async () => {
  work = await hiddenWork();
  ({ school, handing, id, ada, veiled, alias } = work);
});
afterAll(() => school.close());
const scored = (points: number, version: number, by?: Person): Promise<EntryState> => work.scored(points, version, by);

/** Every way to read something of a book, of the desk and of the office, for these names in their paths. */
function readings(book: string, enrolment: string): string[] {
  const live = new Live(journalKinds, null as never, '', () => undefined);
  const file = ada.files[0]!.id;
  const names: Record<string, string> = { book, enrolment, assessment: id, submission: ada.id, file, work: ada.id };
  const queries: Record<string, string> = { 'as-of': '?at=999', between: '?from=1&to=999', journal: '?before=99999' };
  return allRoutes(school.pool, live, () => undefined)
    .filter((r) => r.method === 'get' && r.permission !== 'student' && r.permission !== 'anyone')
    .filter((r) => !['/events', '/openapi.json'].includes(r.path))
    .filter((r) => isBookPermission(r.permission) || book === 'fens')
    .map((r) => {
      const path = r.path.replace(/\{(\w+)\}/g, (_, name: string) => names[name] ?? 'x');
      const where = r.path === '/where' ? `?of=fens&enrolment=${school.adaId}` : '';
      return path + where + (queries[r.path.split('/').pop()!] ?? '');
    });
}

async function read(path: string, who: Person): Promise<string> {
  const answer = await who.send('GET', path);
  return answer.status === 403 || answer.status === 404 ? '' : answer.text;
}

describe('names that are hidden', () => {
  it('are told by no way in: neither with the work whose it is, nor by name what work there is', async () => {
    const staff = [school.teacher, school.marker, school.reviewer, school.office];
    const wrong: string[] = [];
    let opened = 0;
    for (const who of staff)
      for (const path of readings('fens', school.adaId)) {
        const text = await read(path, who);
        for (const secret of [...OF_THE_WORK, ada.id, ada.receipt!])
          // The desk has one's own second look, with its note and a reed's name.
          if (text.includes(secret) && !(path === '/desk' && secret === 'words beside'))
            wrong.push(`${path}: ${secret}`);
        // The desk leads to work by its alias, and says no name with it.
        if (path !== '/desk' && text.includes(alias)) wrong.push(`${path}: an alias`);
      }
    for (const who of staff)
      for (const path of readings(veiled, alias)) {
        const text = await read(path, who);
        if (text !== '') opened++;
        for (const secret of OF_THE_PERSON) if (secret.test(text)) wrong.push(`${path}: ${secret.source}`);
        for (const secret of [school.adaId, school.benId, school.cleoId, ada.receipt!])
          if (text.includes(secret)) wrong.push(`${path}: ${secret}`);
      }
    expect(wrong).toEqual([]);
    // Enough is open through the veil to mark by.
    expect(opened).toBeGreaterThan(40);
  });

  it('leave the work whole to whoever marks it, in nobody’s order', async () => {
    const page = await school.marker.must<BookPage>('GET', `/books/${veiled}`);
    expect(page.students.map((s) => s.family)).toEqual(['Reed 01', 'Reed 02', 'Reed 03']);
    const sheet = await school.marker.must<Sheet>('GET', `/books/${veiled}/sheet`);
    expect(sheet.document.students.map((s) => s.id)).toEqual(page.students.map((s) => s.id));
    const own = sheet.document.entries.find((e) => e.student === alias)!;
    expect([own.item, own.attempts!.at(-1)!.score]).toEqual([id, SCORE]);
    expect(sheet.document.entries.every((e) => e.item === id)).toBe(true);
    const { students } = await school.marker.must<Arrivals>('GET', `/books/${veiled}/assessments/${id}/arrivals`);
    const work = students.find((s) => s.enrolment === alias)!.submissions[0]!;
    expect([work.typed, work.files[0]!.name, work.receipt]).toEqual(['words of the work', 'file 1.txt', null]);
    const file = await fetch(
      `${school.address}/api/v1/books/${veiled}/submissions/${ada.id}/files/${work.files[0]!.id}`,
      {
        headers: { cookie: school.marker.cookie },
      },
    );
    expect([await file.text(), file.headers.get('content-disposition')]).toEqual([
      'layers',
      expect.stringContaining('file 1.txt'),
    ]);
  });

  it('give every assessment aliases of its own', async () => {
    const other = await handing.assessment({}, { namesHidden: true });
    const page = await school.marker.must<BookPage>('GET', `/books/fens~${other}`);
    const here = await school.marker.must<BookPage>('GET', `/books/${veiled}`);
    expect(page.students.filter((s) => here.students.some((h) => h.id === s.id))).toEqual([]);
    expect((await school.marker.send('GET', `/books/fens~${other}/assessments/${id}/arrivals`)).status).toBe(403);
    expect((await school.marker.send('GET', `/books/fens~${other}/submissions/${ada.id}/history`)).status).toBe(403);
  });

  it('are in the ledger as cells that are not there, in an assessment that counts nowhere', async () => {
    const sheet = await school.teacher.must<Sheet>('GET', '/books/fens/sheet');
    expect(sheet.document.entries.some((e) => e.item === id)).toBe(false);
    expect(sheet.hidden!.find((h) => h.assessment === id)).toEqual({ assessment: id, waits: 1 });
    const item = itemsOf(sheet.document.tree).find((i) => i.id === id)!;
    expect(item.counts).toBe(false);
    expect((await school.teacher.send('GET', '/books/fens/final-grades.csv')).status).toBe(403);
  });

  it('are in the journal as lines of nobody, which no search for somebody finds', async () => {
    const all = await school.teacher.must<JournalPage>('GET', '/books/fens/journal');
    const lines = all.sets.flatMap((s) => s.shown).filter((l) => l.hidden);
    expect(lines.length).toBeGreaterThan(3);
    expect(lines.every((l) => l.enrolment === null && l.was === null && l.becomes === null)).toBe(true);
    const hers = await school.teacher.must<JournalPage>('GET', `/books/fens/journal?enrolment=${school.adaId}`);
    expect(hers.sets.flatMap((s) => s.shown).some((l) => l.assessment === id)).toBe(false);
    expect(hers.sets.length).toBeGreaterThan(0);
    expect(all.sets.filter((s) => s.shown.some((l) => l.hidden)).map((s) => s.by)).not.toContain('A. Adler');
    expect(all.people.map((p) => p.name)).not.toContain('A. Adler');
    const said = await school.teacher.must<JournalPage>('GET', `/books/fens/journal?words=Adler`);
    expect(said.sets.flatMap((s) => s.shown).some((l) => l.assessment === id)).toBe(false);
  });

  it('cannot be written by, nor by the name that somebody has elsewhere', async () => {
    const cell = { assessment: id, enrolment: school.adaId, version: 2, change: { kind: 'score', points: 1 } };
    const { assessment: _a, enrolment: _e, ...one } = cell;
    const writes: [string, string, object][] = [
      ['PUT', `/books/fens/entries/${id}/${school.adaId}`, { operation: operation(), ...one }],
      ['POST', '/books/fens/changes', { operation: operation(), kind: 'paste', cells: [cell] }],
      ['POST', '/books/fens/intake', { operation: operation(), title: 'A file', cells: [cell] }],
      ['PUT', `/books/fens/staff-notes/${school.adaId}/${id}`, { operation: operation(), version: 1, note: 'x' }],
      ['POST', '/books/fens/release', { operation: operation(), assessment: id, enrolments: null, moveRules: true }],
      ['POST', `/books/fens/submissions/${ada.id}/opened`, {}],
    ];
    const before = await school.pool.query('select * from journal order by seq');
    for (const [method, path, body] of writes) {
      const answer = await school.teacher.send(method, path, body);
      expect([path, answer.status, answer.body['code']]).toEqual([path, 403, 'names-hidden']);
    }
    const by = await school.teacher.send('PUT', `/books/${veiled}/entries/${id}/${school.adaId}`, {
      ...{ operation: operation(), ...one },
    });
    expect(by.status).toBe(404);
    expect((await school.pool.query('select * from journal order by seq')).rows).toEqual(before.rows);
  });

  it('let an extension be given by name, unseen, and by alias; what is there is told by alias alone', async () => {
    const give = (book: string, enrolment: string, version: number, change: object, kind = 'exception') =>
      school.teacher.send<{ cells: EntryState[] }>('POST', `/books/${book}/changes`, {
        ...{ operation: operation(), kind, cells: [{ assessment: id, enrolment, version, change }] },
      });
    const dates = { kind: 'dates', dueAt: '2026-12-05T17:00:00Z', closesAt: null };
    const made = await give('fens', school.cleoId, 0, dates);
    expect([made.status, made.body.cells]).toEqual([200, []]);
    // Whatever stands there, it takes its place.
    expect((await give('fens', school.cleoId, 0, { ...dates, dueAt: '2026-12-06T17:00:00Z' })).status).toBe(200);
    expect((await give('fens', school.cleoId, 0, { kind: 'score', points: 3 })).status).toBe(403);
    expect((await give('fens', school.cleoId, 0, dates, 'paste')).status).toBe(403);
    const named = await school.teacher.must<ExceptionList>('GET', '/books/fens/exceptions');
    expect(named.lines.filter((l) => l.assessment === id)).toEqual([]);
    const { lines } = await school.teacher.must<ExceptionList>('GET', `/books/${veiled}/exceptions`);
    expect(lines).toMatchObject([{ assessment: id, kind: 'extension', dueAt: '2026-12-06T17:00:00.000Z' }]);
    const excused = await give(veiled, lines[0]!.enrolment, 2, { kind: 'state', state: 'excused' });
    expect(excused.body.cells[0]).toMatchObject({ enrolment: lines[0]!.enrolment, entry: { state: 'excused' } });
    await give(veiled, lines[0]!.enrolment, 3, { kind: 'state', state: null });
  });

  it('are told by no trick: words that somebody writes stay what they are, and nobody is named as they are elsewhere', async () => {
    const { adaId } = school;
    const change = { kind: 'score', points: 1 };
    const cells = (enrolment: string) => [{ assessment: id, enrolment, version: 2, change }];
    const set = await school.marker.send('POST', `/books/${veiled}/changes`, {
      ...{ operation: operation(), kind: 'paste', cells: cells(adaId) },
    });
    expect([set.status, set.text.includes(alias)]).toEqual([404, false]);
    const letter = { operation: operation(), assessment: id, enrolments: [adaId], subject: 'x', body: 'y' };
    expect((await school.teacher.send('POST', `/books/${veiled}/letters`, letter)).status).toBe(404);
    const marking = `/books/${veiled}/assessments/${id}/marking?enrolment=`;
    expect((await school.marker.send('GET', marking + adaId)).status).toBe(404);
    expect((await school.marker.must<Marking>('GET', marking + alias)).works).toEqual([
      { enrolment: alias, work: ada.id },
    ]);
    // What stands in a phrase, a title or a note is nobody's name.
    const phrase = { scope: 'book', words: adaId, version: 0 };
    await school.teacher.send('PUT', `/books/fens/phrases/${randomUUID()}`, phrase);
    const test = { operation: operation(), version: 1, reason: '', tell: null, title: adaId };
    await school.teacher.must('PATCH', '/books/fens/assessments/test', test);
    await school.marker.must('PUT', `/books/${veiled}/staff-notes/${alias}/${id}`, {
      ...{ operation: operation(), version: 1, note: alias },
    });
    for (const path of ['phrases', 'assessments', '']) {
      const { text } = await school.marker.send('GET', `/books/${veiled}/${path}`.replace(/\/$/, ''));
      expect(text).toContain(adaId);
      if (path !== '') expect(text).not.toContain(alias);
    }
    const page = await school.marker.must<BookPage>('GET', `/books/${veiled}`);
    expect(page.assessments.find((a) => a.id === 'test')!.title).toBe(adaId);
    const { notes } = await school.marker.must<BookAnnotations>('GET', `/books/${veiled}/annotations`);
    expect(notes).toMatchObject([{ enrolment: alias, note: { text: alias } }]);
    await school.marker.must('PUT', `/books/${veiled}/staff-notes/${alias}/${id}`, {
      ...{ operation: operation(), version: 2, note: 'words beside' },
    });
    const back = { ...test, operation: operation(), version: 2, title: 'Test' };
    await school.teacher.must('PATCH', '/books/fens/assessments/test', back);
  });

  it('go back and are made again through the veil alone', async () => {
    const mine = await scored(3, 2, school.coTeacher);
    expect((await school.coTeacher.send('POST', '/books/fens/undo', { operation: operation() })).status).toBe(403);
    const back = await school.coTeacher.must<{ cells: EntryState[] }>('POST', `/books/${veiled}/undo`, {
      operation: operation(),
    });
    expect(back.cells[0]).toMatchObject({ enrolment: alias, version: mine.version + 1 });
    // By name nothing is taken back through the veil.
    await school.put('moss', school.benId, 0, { kind: 'score', points: 4 });
    expect((await school.teacher.send('POST', `/books/${veiled}/undo`, { operation: operation() })).status).toBe(403);
  });

  it('are shown by a teacher, for all at once, with one journal line; then all of it is read by name', async () => {
    const at = `/books/fens/assessments/${id}`;
    const { rows } = await school.pool.query<{ version: number; seq: number }>(
      `select a.version, b.seq from assessment a join book b on b.id = a.book where a.id = $1`,
      [id],
    );
    const { version, seq } = rows[0]!;
    const work = { namesHidden: true, namesShown: true, hears: 'all' };
    const write = { operation: operation(), version, reason: '', tell: null, work };
    expect((await school.marker.send('PATCH', at, write)).status).toBe(403);
    await school.teacher.must('PATCH', at, write);
    const lines = await school.pool.query('select kind from journal where book = $1 and seq > $2', ['fens', seq]);
    expect(lines.rows).toEqual([{ kind: 'assessment' }]);
    const sheet = await school.teacher.must<Sheet>('GET', '/books/fens/sheet');
    expect(sheet.document.entries.some((e) => e.item === id && e.student === school.adaId)).toBe(true);
    expect(sheet.hidden!.some((h) => h.assessment === id)).toBe(false);
    const { sets } = await school.teacher.must<JournalPage>('GET', `/books/fens/journal?enrolment=${school.adaId}`);
    expect(sets.flatMap((s) => s.shown).some((l) => l.assessment === id)).toBe(true);
    await school.release(id, null);
    // What was begun through the veil is finished there.
    await scored(SCORE, 4);
    // Once it was read it cannot be hidden again.
    const again = { ...write, operation: operation(), version: version + 1, work: { namesHidden: true } };
    const refused = await school.teacher.send<{ detail: string }>('PATCH', at, again);
    expect([refused.status, refused.body.detail]).toEqual([
      400,
      expect.stringContaining('whose work is whose is known'),
    ]);
  });
});
