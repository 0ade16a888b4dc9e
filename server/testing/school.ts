import type { RulesPart } from '@core/book/change';
import type { MailSender } from '../modules/mail';
import { operation, Person, type Answer } from './person';
import { templateOf, testServer, type TestServer } from './server';

/** Where the clock of the test school stands. */
export const CLOCK = '2026-11-24T09:00:00Z';
export const PASSWORD = 'long-enough-1';

export const RULES: RulesPart = {
  rules: {
    late: { steady: { unit: 'day', deduct: 10, max: 50, graceMinutes: 15 } },
    blank: { usual: { beforeDue: 'skip', afterDue: { percent: 0 } } },
    scales: {
      letters: {
        bands: [
          { label: 'A', from: 80 },
          { label: 'B', from: 50 },
          { label: 'F', from: 0 },
        ],
      },
    },
  },
  blank: 'usual',
  late: 'steady',
  scale: 'letters',
  rounding: { decimals: 1, mode: 'half-up' },
  tree: {
    id: 'all',
    type: 'group',
    combine: 'weights',
    children: [
      { id: 'work', type: 'group', combine: 'points', weight: 60, children: [], info: { title: 'Field work' } },
      { id: 'tests', type: 'group', combine: 'points', weight: 40, children: [], info: { title: 'Tests' } },
    ],
  },
};

export interface TestSchool extends TestServer {
  office: Person;
  teacher: Person;
  coTeacher: Person;
  marker: Person;
  reviewer: Person;
  stranger: Person;
  ada: Person;
  ben: Person;
  /** Enrolment ids in the book "fens". */
  adaId: string;
  benId: string;
  cleoId: string;
  /** Lets the school's clock run, from a moment on; until then it stands still. */
  runClock(from: string): Promise<void>;
  put(assessment: string, enrolment: string, version: number, change: unknown): Promise<Answer>;
  release(assessment: string, enrolments: string[] | null, moveRules?: boolean): Promise<void>;
}

const STUDENTS = [
  ['ada', 'Adler', 'Ada', 'N1'],
  ['ben', 'Birch', 'Ben', 'N2'],
  ['cleo', '=Crane', 'Cleo', 'N3'],
  ['out', 'Outsider', 'Ola', 'N9'],
];

/** Those of the school who are signed in from its beginning. */
const SIGNED_IN = ['office', 'teacher', 'coteacher', 'marker', 'reviewer', 'stranger', 'ada', 'ben'] as const;

/** A school that was made once, to be copied: its database, the sessions of its people, and its enrolments. */
interface MadeSchool {
  template: string;
  people: Map<string, Person>;
  enrolments: { id: string; number: string }[];
}

let made: Promise<MadeSchool> | undefined;

/** Makes it through the API. */
async function makeSchool(): Promise<MadeSchool> {
  const server = await testServer();
  const { address } = server;
  await new Person(address).must('POST', '/setup', {
    code: 'code',
    school: { id: 'tarn', title: 'Tarn School', timeZone: 'Europe/Dublin' },
    administrator: { login: 'office', family: 'Office', given: 'Una', password: PASSWORD },
    term: null,
  });
  // What is past and what is to come stays so while a test runs.
  await server.pool.query(`update school set fixed_now = $1`, [CLOCK]);
  const office = await Person.signedIn(address, 'office', PASSWORD);
  const person = (login: string, family: string, given: string, number: string, role: string) => ({
    login,
    family,
    given,
    number,
    mail: number ? `${login}@tarn.example` : '',
    role,
    password: PASSWORD,
  });
  await office.must('POST', '/people', {
    people: [
      ...['teacher', 'coteacher', 'marker', 'reviewer', 'stranger'].map((login) =>
        person(login, login, 'Staff', '', 'staff'),
      ),
      ...STUDENTS.map(([login, family, given, number]) => person(login!, family!, given!, number!, 'student')),
    ],
  });
  await office.must('POST', '/terms', { id: 'autumn', title: 'Autumn', starts: '2026-09-01', ends: '2026-12-20' });
  const book = (id: string, title: string, staff: object[]) => ({
    id,
    term: 'autumn',
    title,
    sections: [{ id: 'north', title: 'North' }],
    staff,
    rules: RULES,
  });
  await office.must(
    'POST',
    '/books',
    book('fens', 'Fens', [
      { login: 'teacher', role: 'teacher' },
      { login: 'coteacher', role: 'co-teacher' },
      { login: 'marker', role: 'marker' },
      { login: 'reviewer', role: 'reviewer' },
    ]),
  );
  await office.must('POST', '/books', book('hills', 'Hills', [{ login: 'stranger', role: 'teacher' }]));
  const { enrolments } = await office.must<{ enrolments: { id: string; number: string }[] }>(
    'POST',
    '/books/fens/enrolments',
    {
      students: STUDENTS.slice(0, 3).map((s) => ({ number: s[3], section: 'north' })),
    },
  );
  await office.must('POST', '/books/hills/enrolments', { students: [{ number: 'N9', section: null }] });
  const people = new Map([['office', office]]);
  for (const login of SIGNED_IN.slice(1)) people.set(login, await Person.signedIn(address, login, PASSWORD));
  for (const [id, title, category, points, due] of [
    ['moss', 'Moss', 'work', 20, '2026-10-10T16:00:00Z'],
    ['reed', 'Reed', 'work', 10, '2026-11-10T17:00:00Z'],
    ['test', 'Test', 'tests', 50, '2026-12-10T17:00:00Z'],
  ] as const)
    await people.get('teacher')!.must('POST', '/books/fens/assessments', {
      operation: operation(),
      id,
      title,
      category,
      points,
      due,
      closes: null,
      takesWork: false,
      more: {},
    });
  await server.close();
  return { template: templateOf(server), people, enrolments };
}

/** A small school: one book "fens" with three students, and another book of somebody else's. */
export async function testSchool(openMail: (() => MailSender) | null = null): Promise<TestSchool> {
  const { template, people, enrolments } = await (made ??= makeSchool());
  const server = await testServer(openMail, template);
  const [office, teacher, coTeacher, marker, reviewer, stranger, ada, ben] = SIGNED_IN.map((login) =>
    people.get(login)!.at(server.address),
  );
  const idOf = (number: string): string => enrolments.find((e) => e.number === number)!.id;
  return {
    ...server,
    office: office!,
    teacher: teacher!,
    coTeacher: coTeacher!,
    marker: marker!,
    reviewer: reviewer!,
    stranger: stranger!,
    ada: ada!,
    ben: ben!,
    adaId: idOf('N1'),
    benId: idOf('N2'),
    cleoId: idOf('N3'),
    async runClock(from) {
      await server.pool.query(
        `update school set fixed_now = null, clock_offset = $1::timestamptz - clock_timestamp()`,
        [from],
      );
    },
    put: (assessment, enrolment, version, change) =>
      teacher!.send('PUT', `/books/fens/entries/${assessment}/${enrolment}`, {
        operation: operation(),
        version,
        change,
      }),
    async release(assessment, enrolments, moveRules = true) {
      await teacher!.must('POST', '/books/fens/release', { operation: operation(), assessment, enrolments, moveRules });
    },
  };
}
