import { rulesOf } from '@core/book/assemble';
import type { BookDocument } from '@core/book/document';
import { OFFICE_PASSWORD, STAFF_PASSWORD, STUDENT_PASSWORD } from './accounts.mjs';
import { Client, operation } from './client';
import { BOOKS, type DemoBook } from './data/books';
import { SCHOOL_RULES } from './data/school-rules';
import { demoStudents, type DemoStudent } from './data/people';
import { Random } from './random';
import { demoCell, dublin, type DemoCell } from './scores';

const STUDENTS = 120;

/** Makes Brackenmoor College through the API, by the people in it. */
export async function loadDemo(address: string, setupCode: string): Promise<void> {
  await new Client(address).send('POST', '/setup', {
    code: setupCode,
    school: { id: 'brackenmoor', title: 'Brackenmoor College', timeZone: 'Europe/Dublin' },
    administrator: { login: 'halloran', family: 'Halloran', given: 'Bríd', password: OFFICE_PASSWORD },
    term: { id: 'autumn-2026', title: 'Autumn 2026', starts: '2026-09-14', ends: '2026-12-18' },
  });
  const office = await Client.signedIn(address, 'halloran', OFFICE_PASSWORD);
  const students = demoStudents(STUDENTS);
  await makePeople(office, students);
  await office.send('PUT', '/school-rules', {
    operation: operation(),
    version: 0,
    reason: 'Agreed by the board of studies, 1 September 2026',
    rules: SCHOOL_RULES,
  });
  for (const book of BOOKS) {
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
    await fillBook(teacher, book, students.slice(...book.students), enrolments);
  }
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

async function fillBook(
  teacher: Client,
  book: DemoBook,
  students: DemoStudent[],
  enrolments: Map<string, string>,
): Promise<void> {
  const path = `/books/${book.id}`;
  for (const a of book.assessments)
    await teacher.send('POST', `${path}/assessments`, {
      operation: operation(),
      id: a.id,
      title: a.title,
      category: a.category,
      points: a.points,
      due: a.due === null ? null : dublin(a.due),
      closes: null,
      takesWork: false,
      more: a.more ?? {},
    });
  const random = new Random(book.id.length * 7919);
  const cells = new Map<string, DemoCell>();
  let excused = 0;
  for (const a of book.assessments) {
    const group = book.rules.tree.children.find((g) => g.id === a.category);
    const drawn = students.map((s) => ({
      enrolment: enrolments.get(s.number)!,
      cell: demoCell(random, s, a, group?.late !== null),
    }));
    for (const { enrolment, cell } of drawn) cells.set(`${a.id} ${enrolment}`, cell);
    // Each teacher enters what came in, assessment by assessment; work is received first and scored after.
    for (const round of [0, 1]) {
      const isException = (d: (typeof drawn)[number]): boolean =>
        ['state', 'due'].includes(d.cell.changes[round]?.kind ?? '');
      for (const d of drawn.filter(isException)) {
        const change = d.cell.changes[round]!;
        const reasons = change.kind === 'due' ? LATER : EXCUSED;
        await teacher.send('POST', `${path}/changes`, {
          operation: operation(),
          kind: 'exception',
          title: change.kind === 'due' ? 'own due date' : 'excused',
          reason: reasons[excused++ % reasons.length],
          cells: [{ assessment: a.id, enrolment: d.enrolment, version: round, change }],
        });
      }
      const wanted = drawn.filter((d) => d.cell.changes[round] !== undefined && !isException(d));
      if (wanted.length === 0) continue;
      await teacher.send('POST', `${path}/intake`, {
        operation: operation(),
        title: round === 0 ? a.title : `${a.title}, scores of late work`,
        cells: wanted.map((d) => ({
          assessment: a.id,
          enrolment: d.enrolment,
          version: round,
          change: d.cell.changes[round],
        })),
      });
    }
    if (a.phase !== 'released') continue;
    await teacher.send('POST', `${path}/release`, {
      operation: operation(),
      assessment: a.id,
      enrolments: null,
      moveRules: true,
    });
  }
  await exceptions(teacher, book, students, enrolments, cells);
  if (book.showsStanding) await teacher.send('PATCH', path, { operation: operation(), showsStanding: true });
}

const EXCUSED = [
  'ill, note from the nurse',
  'at the county ploughing match for the college',
  'bereavement in the family',
  'the minibus to the site broke down',
];
const LATER = ['hand in plaster until then', 'the borrowed auger came back late'];

/** What happens after release: a score put right, a first few of a marked set released early, an own date. */
async function exceptions(
  teacher: Client,
  book: DemoBook,
  students: DemoStudent[],
  enrolments: Map<string, string>,
  cells: Map<string, DemoCell>,
): Promise<void> {
  const path = `/books/${book.id}`;
  const released = book.assessments.filter((a) => a.phase === 'released').at(-1)!;
  const changed = students
    .map((s) => enrolments.get(s.number)!)
    .filter((e) => cells.get(`${released.id} ${e}`)!.changes.length === 1);
  for (const enrolment of changed.slice(3, 5)) {
    const cell = cells.get(`${released.id} ${enrolment}`)!;
    const first = cell.changes[0]!;
    if (first.kind !== 'score') continue;
    await teacher.send('PUT', `${path}/entries/${released.id}/${enrolment}`, {
      operation: operation(),
      version: 1,
      change: { kind: 'score', points: Math.min(released.points, first.points + 1) },
    });
  }
  const marking = book.assessments.find((a) => a.phase === 'marking');
  const early = students
    .map((s) => enrolments.get(s.number)!)
    .filter(
      (e) => marking && !cells.get(`${marking.id} ${e}`)!.waits && cells.get(`${marking.id} ${e}`)!.changes.length > 0,
    )
    .slice(0, 2);
  if (marking && early.length > 0)
    await teacher.send('POST', `${path}/release`, {
      operation: operation(),
      assessment: marking.id,
      enrolments: early,
      moveRules: false,
    });
  const due = students
    .map((s) => enrolments.get(s.number)!)
    .find((e) => marking && cells.get(`${marking.id} ${e}`)!.changes.length === 0);
  if (marking && due)
    await teacher.send('PUT', `${path}/entries/${marking.id}/${due}`, {
      operation: operation(),
      version: 0,
      change: { kind: 'due', dueAt: '2026-11-27T17:00:00Z' },
      reason: 'soil corer under repair',
    });
}

const address = process.env['LAST_TALLY'];
if (address)
  loadDemo(address, process.env['SETUP_CODE'] ?? '').catch((error: Error) => {
    process.stderr.write(`${error.message}\n`);
    process.exitCode = 1;
  });
