import { rulesOf } from '@core/book/assemble';
import type { BookDocument } from '@core/book/document';
import { DEMO_CLOCK, OFFICE_PASSWORD, STAFF_PASSWORD, STUDENT_PASSWORD } from './accounts.mjs';
import { Client, operation } from './client';
import { DemoClock } from './clock';
import { BOOKS } from './data/books';
import type { DemoBook } from './data/demo-book';
import { SCHOOL_RULES } from './data/school-rules';
import { demoStudents, type DemoStudent } from './data/people';
import { Random } from './random';
import { BEGINS, fillBook } from './fill-book';
import { DemoStudents } from './hand-in';
import { dublin } from './scores';

const STUDENTS = 120;

/** Makes Brackenmoor College through the API, by the people in it, each thing on its day of the autumn. */
export async function loadDemo(address: string, setupCode: string, clock: DemoClock): Promise<void> {
  await new Client(address).send('POST', '/setup', {
    code: setupCode,
    school: { id: 'brackenmoor', title: 'Brackenmoor College', timeZone: 'Europe/Dublin' },
    administrator: { login: 'halloran', family: 'Halloran', given: 'Bríd', password: OFFICE_PASSWORD },
    term: { id: 'autumn-2026', title: 'Autumn 2026', starts: '2026-09-14', ends: '2026-12-18' },
  });
  await clock.set(dublin(BEGINS));
  const office = await Client.signedIn(address, 'halloran', OFFICE_PASSWORD);
  const students = demoStudents(STUDENTS);
  await makePeople(office, students);
  const desks = new DemoStudents(address);
  await office.send('PUT', '/school-rules', {
    operation: operation(),
    version: 0,
    reason: 'Agreed by the board of studies, 1 September 2026',
    rules: SCHOOL_RULES,
  });
  for (const book of BOOKS) {
    await clock.set(dublin(BEGINS));
    await office.send('POST', '/books', {
      id: book.id,
      term: 'autumn-2026',
      title: book.title,
      sections: book.sections,
      staff: book.staff,
      rules: book.rules,
    });
    const enrolments = await enrolStudents(office, book, students);
    const teacher = await Client.signedIn(address, book.staff[0]!.login, STAFF_PASSWORD);
    if (book.departs) {
      const { document } = await teacher.send<{ document: BookDocument }>('GET', `/books/${book.id}/sheet`);
      await teacher.send('PUT', `/books/${book.id}/rules`, {
        operation: operation(),
        version: 1,
        reason: book.departs.reason,
        rules: { ...rulesOf(document), ...book.departs.rules },
      });
    }
    await fillBook(teacher, book, students.slice(...book.students), enrolments, { clock, desks });
  }
  await clock.set(DEMO_CLOCK);
}

async function makePeople(office: Client, students: DemoStudent[]): Promise<void> {
  const staff = [
    ['aldous', 'Aldous', 'Rhoda'],
    ['brandvold', 'Brandvold', 'Terje'],
    ['penhale', 'Penhale', 'Jory'],
    ['quigg', 'Quigg', 'Martha'],
  ].map(([login, family, given]) => ({
    login,
    family,
    given,
    number: '',
    mail: `${login}@brackenmoor.example`,
    role: 'staff',
    password: STAFF_PASSWORD,
  }));
  await office.send('POST', '/people', { people: staff });
  const people = students.map((s) => ({
    login: s.login,
    family: s.family,
    given: s.given,
    number: s.number,
    mail: `${s.login}@students.brackenmoor.example`,
    role: 'student',
    password: STUDENT_PASSWORD,
  }));
  await office.send('POST', '/people', { people });
}

async function enrolStudents(office: Client, book: DemoBook, students: DemoStudent[]): Promise<Map<string, string>> {
  const random = new Random(book.id.length * 97);
  const own = students.slice(...book.students);
  const { enrolments } = await office.send<{ enrolments: { id: string; number: string }[] }>(
    'POST',
    `/books/${book.id}/enrolments`,
    {
      students: own.map((s, i) => ({
        number: s.number,
        section:
          book.sections.length === 2 ? random.pick(book.sections).id : book.sections[i % book.sections.length]!.id,
        ...(s.family === 'Balogun' ? { extraTimeHours: 48 } : {}),
      })),
    },
  );
  return new Map(enrolments.map((e) => [e.number, e.id]));
}

const address = process.env['LAST_TALLY'];
if (address)
  (async () => {
    const clock = await DemoClock.open(process.env['DATABASE_URL'] ?? '');
    try {
      await loadDemo(address, process.env['SETUP_CODE'] ?? '', clock);
    } finally {
      await clock.close();
    }
  })().catch((error: Error) => {
    process.stderr.write(`${error.message}${error.cause ? ` (${String(error.cause)})` : ''}\n`);
    process.exitCode = 1;
  });
