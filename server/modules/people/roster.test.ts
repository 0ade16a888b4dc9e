import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { BookPage, BookList } from '@contract/books';
import type { PeoplePage, RosterMade } from '@contract/people';
import { operation, Person } from '../../testing/person';
import { PASSWORD, testSchool, type TestSchool } from '../../testing/school';
import type { Invitations } from '@contract/accounts';
let school: TestSchool;
beforeAll(async () => {
  school = await testSchool();
});
afterAll(() => school.close());

const line = (family: string, given: string, number = '', section = '', mail = '') => ({
  family,
  given,
  number,
  mail,
  section,
});
const put = (lines: object[], more: object = {}, who = school.teacher) =>
  who.send<RosterMade>('POST', '/books/fens/people', {
    operation: operation(),
    try: false,
    lines,
    reason: '',
    ...more,
  });
const people = () => school.teacher.must<PeoplePage>('GET', '/books/fens/people');
const student = async (number: string) => (await people()).students.find((s) => s.number === number)!;

describe('a list of students', () => {
  const wanted = [
    line('Adler', 'Ada', 'N1', 'North'),
    line('Birch', 'Ben', 'N2', 'East'),
    line('Dale', 'Dora', 'N4', 'East', 'dora@tarn.example'),
    line('Outsider', 'Ola', 'N9'),
    line('Wrong', 'Name', 'N1'),
    line('Else', 'Somebody', 'N3', '', 'ada@tarn.example'),
    line('Dale', 'Dora', 'N4'),
    line('', '', 'N77'),
  ];

  it('says what becomes of every line before anything is done', async () => {
    const before = await people();
    const { body } = await put(wanted, { try: true });
    expect(body.lines.map((l) => l.fate)).toEqual([
      'here',
      'moves',
      'new',
      'enrol',
      'refused',
      'refused',
      'refused',
      'refused',
    ]);
    expect(body.sections).toEqual(['East']);
    expect(body.lines.slice(4).map((l) => l.message)).toEqual([
      'N1 belongs to Ada Adler in this school.',
      'The number is Cleo =Crane’s and the mail address Ada Adler’s.',
      'The list has this student twice.',
      'Nobody in the school has N77, and there is no name to add.',
    ]);
    expect(await people()).toEqual(before);
  });

  it('takes nobody of the staff for a student, whose number a line may have', async () => {
    await school.pool.query(`update person set number = 'W1' where login = 'stranger'`);
    const { status, body } = await put([line('Fresh', 'Fay', 'W1')]);
    expect(status).toBe(200);
    expect(body.lines).toEqual([
      { fate: 'refused', message: 'The number W1 is that of Staff stranger, who is no student of this school.' },
    ]);
  });

  it('is put in once, however often it is tried, and nobody is doubled', async () => {
    const op = operation();
    expect((await put(wanted, { operation: op })).body.done).toBe(3);
    await put(wanted, { operation: op });
    expect((await put(wanted)).body.lines.slice(0, 4).map((l) => l.fate)).toEqual(['here', 'here', 'here', 'here']);
    const all = (await people()).students;
    expect(all.map((s) => s.number).sort()).toEqual(['N1', 'N2', 'N3', 'N4', 'N9']);
    expect(all.find((s) => s.number === 'N4')).toMatchObject({ login: 'dora', account: 'none' });
    const { sections } = await school.teacher.must<BookPage>('GET', '/books/fens');
    expect(sections.map((s) => s.title)).toEqual(['North', 'East']);
  });

  it('of names alone is refused where two could be meant', async () => {
    await put([line('Dale', 'Dora', 'N5')]);
    const { body } = await put([line('dale', 'DORA')], { try: true });
    expect(body.lines[0]).toMatchObject({ fate: 'refused', message: expect.stringContaining('2 students') as string });
  });

  it('by the office needs a reason, and by a marker is refused', async () => {
    const fresh = [line('Gill', 'Greer', 'N6')];
    expect((await put(fresh, {}, school.office)).body).toMatchObject({
      detail: expect.stringContaining('reason') as string,
    });
    expect((await put(fresh, { reason: 'late entry' }, school.office)).status).toBe(200);
    expect((await put(fresh, {}, school.marker)).status).toBe(403);
    expect((await put(fresh, {}, school.stranger)).status).toBe(404);
  });
});

describe('where a student is', () => {
  const change = async (number: string, more: object) =>
    school.teacher.send('PATCH', '/books/fens/enrolments', {
      operation: operation(),
      enrolments: [(await student(number)).id],
      reason: '',
      ...more,
    });

  it('is dated: moved, out and in again, with the scores', async () => {
    await school.put('moss', school.adaId, 0, { kind: 'score', points: 13 });
    const { sections } = await school.teacher.must<BookPage>('GET', '/books/fens');
    const east = sections.find((s) => s.title === 'East')!.id;
    await change('N1', { section: east });
    await change('N1', { left: true });
    expect((await school.teacher.must<BookPage>('GET', '/books/fens')).students.map((s) => s.id)).not.toContain(
      school.adaId,
    );
    // They read what came back, and are told that they have left.
    expect(await school.ada.must('GET', '/my/books')).toMatchObject([{ book: 'fens', left: true }]);
    expect((await school.put('moss', school.adaId, 1, { kind: 'score', points: 1 })).status).toBe(400);
    await change('N1', { left: false });
    const ada = await student('N1');
    expect([ada.left, ada.section]).toEqual([false, east]);
    expect(ada.stays.map((s) => [s.section, s.until === null])).toEqual([
      ['north', false],
      [east, false],
      [east, true],
    ]);
    const { document } = await school.teacher.must<{ document: { entries: unknown[] } }>('GET', '/books/fens/sheet');
    expect(document.entries).toContainEqual({ student: school.adaId, item: 'moss', attempts: [{ score: 13 }] });
  });

  it('is refused for a section that is not there', async () => {
    expect((await change('N1', { section: 'nowhere' })).status).toBe(400);
  });
});

describe('staff and sections', () => {
  const staff = (login: string, role: string | null, who = school.teacher) =>
    who.send('PUT', `/books/fens/staff/${login}`, { operation: operation(), role, reason: '' });

  it('a book keeps a teacher; a co-teacher makes none', async () => {
    expect((await staff('teacher', 'marker')).body['detail']).toMatch(/at least one teacher/);
    expect((await staff('stranger', 'teacher', school.coTeacher)).status).toBe(403);
    expect((await staff('stranger', 'marker', school.coTeacher)).status).toBe(200);
    expect((await school.stranger.send('GET', '/books/fens')).status).toBe(200);
    await staff('stranger', null);
    expect((await school.stranger.send('GET', '/books/fens')).status).toBe(404);
    expect((await staff('nobody-here', 'marker')).status).toBe(404);
    expect((await staff('ada', 'marker')).status).toBe(404);
  });

  it('a section has one title of its own', async () => {
    const section = (id: string, title: string) =>
      school.teacher.send('PUT', `/books/fens/sections/${id}`, { operation: operation(), title, reason: '' });
    expect((await section('west', 'West')).status).toBe(200);
    expect((await section('other', ' west ')).status).toBe(409);
    expect((await section('west', 'Far West')).status).toBe(200);
    expect((await section('no%20id', 'X')).status).toBe(400);
  });
});

describe('an invitation', () => {
  const secretOf = (path: string) => path.slice(path.indexOf('#') + 1);

  it('gives its bearer a password once; a teacher invites only students without one', async () => {
    const dora = await student('N4');
    const { invitations } = await school.teacher.must<Invitations>('POST', '/books/fens/invitations', {
      logins: [dora.login],
    });
    expect((await student('N4')).account).toBe('invited');
    const secret = secretOf(invitations[0]!.path);
    const { rows } = await school.pool.query<{ text: string }>('select invitation::text as text from invitation');
    expect(rows.some((r) => r.text.includes(secret))).toBe(false);
    const nobody = new Person(school.address);
    expect((await nobody.send('POST', '/welcome', { secret, password: 'short' })).status).toBe(400);
    expect((await nobody.send('POST', '/welcome', { secret, password: PASSWORD })).body).toEqual({ login: dora.login });
    expect((await nobody.send('POST', '/welcome', { secret, password: 'another-1' })).status).toBe(404);
    await Person.signedIn(school.address, dora.login, PASSWORD);
    expect((await student('N4')).account).toBe('ready');

    const invite = (logins: string[], who = school.teacher) => who.send('POST', '/books/fens/invitations', { logins });
    expect((await invite([dora.login])).status).toBe(403);
    expect((await invite(['coteacher'])).status).toBe(404);
    expect((await school.teacher.send('POST', '/invitations', { logins: [dora.login] })).status).toBe(403);
  });

  it('of the office ends every session of its person when it is taken up, and a new link ends the old', async () => {
    const ask = () => school.office.must<Invitations>('POST', '/invitations', { logins: ['ben'] });
    const old = secretOf((await ask()).invitations[0]!.path);
    const fresh = secretOf((await ask()).invitations[0]!.path);
    const nobody = new Person(school.address);
    expect((await nobody.send('POST', '/welcome', { secret: old, password: 'another-1' })).status).toBe(404);
    expect((await school.ben.send('GET', '/my/books')).status).toBe(200);
    expect((await nobody.send('POST', '/welcome', { secret: fresh, password: 'another-1' })).status).toBe(200);
    expect((await school.ben.send('GET', '/my/books')).status).toBe(401);
  });

  it('whose days are over is none', async () => {
    const { invitations } = await school.office.must<Invitations>('POST', '/invitations', { logins: ['cleo'] });
    await school.pool.query(`update invitation set expires_at = now() - interval '1 minute'`);
    const secret = secretOf(invitations[0]!.path);
    const answer = await new Person(school.address).send('POST', '/welcome', { secret, password: PASSWORD });
    expect(answer.status).toBe(404);
  });
});

describe('a book', () => {
  const make = (more: object, who = school.teacher) =>
    who.send('POST', '/books', {
      id: 'own',
      term: 'autumn',
      title: 'Own',
      sections: [{ id: 'a', title: 'A' }],
      staff: [],
      rules: { from: 'fens' },
      ...more,
    });

  it('made by a teacher is theirs, with the rules of a book they may read', async () => {
    expect((await make({ rules: { from: 'hills' } })).status).toBe(404);
    expect((await make({ timeZone: 'Nowhere/Here' })).status).toBe(400);
    expect((await make({ timeZone: 'America/St_Johns' })).status).toBe(201);
    // Tried again it is there; another book of that name is not made.
    expect((await make({})).status).toBe(201);
    expect((await make({ title: 'Another' })).status).toBe(409);
    expect((await make({}, school.coTeacher)).status).toBe(409);
    expect((await make({ id: 'other' }, school.ada)).status).toBe(403);
    const page = await school.teacher.must<BookPage>('GET', '/books/own');
    expect([page.role, page.timeZone]).toEqual(['teacher', 'America/St_Johns']);
    expect((await school.coTeacher.send('GET', '/books/own')).status).toBe(404);
  });

  it('is copied for another term: rules, sections and assessments with their dates moved, and nobody', async () => {
    await school.office.must('POST', '/terms', {
      id: 'spring',
      title: 'Spring',
      starts: '2027-01-10',
      ends: '2027-05-20',
    });
    await school.teacher.must('POST', '/books/fens/copies', {
      id: 'fens-2',
      term: 'spring',
      title: 'Fens again',
      assessments: true,
      shiftDays: 140,
    });
    const page = await school.teacher.must<BookPage>('GET', '/books/fens-2');
    expect([page.students, page.sections.length, page.staff.length]).toEqual([[], 3, 1]);
    // 16:00 in October is 17:00 local; in February that is 17:00 universal time.
    expect(page.assessments.map((a) => [a.id, a.due])).toContainEqual(['moss', '2027-02-27T17:00:00.000Z']);
  });

  it('put away is read and not changed, and taken out again by its teacher', async () => {
    const patch = (archived: boolean, who = school.teacher) =>
      who.send('PATCH', '/books/fens', { operation: operation(), archived });
    expect((await patch(true, school.coTeacher)).status).toBe(403);
    expect((await patch(true)).status).toBe(200);
    expect((await school.teacher.must<BookPage>('GET', '/books/fens')).archived).toBe(true);
    expect((await school.put('moss', school.benId, 0, { kind: 'score', points: 3 })).status).toBe(403);
    expect((await put([line('New', 'Person', 'N8')])).status).toBe(403);
    expect((await school.teacher.send('PATCH', '/books/fens', { operation: operation(), title: 'X' })).status).toBe(
      403,
    );
    const { books } = await school.teacher.must<BookList>('GET', '/books');
    expect(books.find((b) => b.id === 'fens')).toMatchObject({ archived: true });
    const desk = await school.teacher.must<{ books: { id: string }[] }>('GET', '/desk');
    expect(desk.books.map((b) => b.id)).not.toContain('fens');
    expect((await patch(false)).status).toBe(200);
    expect((await school.put('moss', school.benId, 0, { kind: 'score', points: 3 })).status).toBe(200);
  });

  it('is seen as a student sees it by staff who read it, and by nobody else', async () => {
    await school.release('moss', [school.benId]);
    const path = `/books/fens/as-student/${school.benId}`;
    const seen = await school.marker.must<{ work: { id: string; score: unknown }[] }>('GET', path);
    expect(seen.work.find((w) => w.id === 'moss')?.score).not.toBeNull();
    expect((await school.ada.send('GET', path)).status).toBe(403);
    expect((await school.stranger.send('GET', path)).status).toBe(404);
  });
});
