import type { Group } from '@core/book/document';
import { type Client, operation } from './client';
import type { DemoClock } from './clock';
import type { DemoAssessment, DemoBook } from './data/demo-book';
import type { DemoStudent } from './data/people';
import { afterwards } from './afterwards';
import { releaseToAll, writeFeedback } from './feedback';
import { markByRubric } from './rubric';
import { type DemoStudents } from './hand-in';
import { Random } from './random';
import { demoCell, dublin, type DemoCell } from './scores';
import { Term } from './term';
import { workComesIn } from './work-comes-in';

export const BEGINS = '09-01T08:30';
/** What is made last before the demo's day: scores, their release, and what came up after it. */
const SCORED_BY = '11-23T15:00';
const RELEASED_BY = '11-23T16:00';
const READ_BY = '11-23T20:00';
export const AFTERWARDS = '11-23T17:00';
const DAY = 86_400_000;

/** A student of a book with what is drawn for them. */
export interface Drawn {
  student: DemoStudent;
  enrolment: string;
  cell: DemoCell;
}

const daysAfter = (a: DemoAssessment, days: number): string =>
  new Date(Date.parse(dublin(a.due ?? BEGINS)) + days * DAY).toISOString();
const earlier = (a: string, b: string): string => (a < b ? a : b);
const hourBefore = (at: string): string => new Date(Date.parse(at) - 3_600_000).toISOString();

/** Makes a book's assessments, and lets its term pass: work comes in, is marked and released. */
export async function fillBook(
  teacher: Client,
  book: DemoBook,
  students: DemoStudent[],
  enrolments: Map<string, string>,
  { clock, desks }: { clock: DemoClock; desks: DemoStudents },
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
      takesWork: a.work !== undefined,
      work: a.work ?? {},
      more: a.more ?? {},
    });
  const random = new Random(book.id.length * 7919);
  const cells = new Map<string, DemoCell>();
  const all = book.assessments.map((a) => {
    const group = book.rules.tree.children.find((g): g is Group => g.type === 'group' && g.id === a.category);
    const drawn = students.map((student) => ({
      student,
      enrolment: enrolments.get(student.number)!,
      cell: demoCell(random, student, a, group?.late !== null),
    }));
    for (const { enrolment, cell } of drawn) cells.set(`${a.id} ${enrolment}`, cell);
    return { a, drawn };
  });
  const term = new Term(clock);
  let excused = 0;
  for (const { a, drawn } of all.sort((x, y) => daysAfter(x.a, 0).localeCompare(daysAfter(y.a, 0)))) {
    const handedIn =
      a.work === undefined ? new Map<string, number>() : workComesIn(term, desks, teacher, book, a, drawn);
    term.at(earlier(daysAfter(a, 4), dublin(SCORED_BY)), async () => {
      excused = await enterScores(teacher, path, a, drawn, handedIn, excused);
    });
    if (a.phase !== 'released') continue;
    const at = { book: book.id, assessment: a.id };
    const releasedAt = earlier(daysAfter(a, 5), dublin(RELEASED_BY));
    if (a.feedback)
      term.at(hourBefore(releasedAt), async () => {
        await writeFeedback(teacher, { ...at, points: a.points }, scoresOf(drawn));
        await clock.waitForNotes();
      });
    term.at(releasedAt, () => releaseToAll(teacher, at, a.feedback?.comment));
  }
  for (const { a, drawn } of all)
    if (a.rubric) term.at(earlier(daysAfter(a, 4), dublin(AFTERWARDS)), () => markByRubric(teacher, { book: book.id, assessment: a.id }, a.rubric!, scoresOf(drawn))); // prettier-ignore
  term.at(dublin(AFTERWARDS), () => afterwards(teacher, book, students, enrolments, cells));
  // What came back is opened by most; of what came last some have not.
  const released = all.filter(({ a }) => a.phase === 'released').map(({ a }) => a.id);
  term.at(dublin(READ_BY), async () => {
    for (const [n, student] of students.entries())
      await desks.read(student, book.id, n % 4 === 3 ? released.slice(0, -1) : released);
  });
  await term.pass();
}

/** The one score of each student who has one and no later work that waits. */
const scoresOf = (drawn: readonly Drawn[]): Map<string, number> =>
  new Map(
    drawn.flatMap(({ enrolment, cell }) => {
      const last = cell.changes.at(-1);
      return !cell.waits && last?.kind === 'score' ? [[enrolment, last.points] as const] : [];
    }),
  );

const EXCUSED = [
  'ill, note from the nurse',
  'at the county ploughing match for the college',
  'bereavement in the family',
  'the minibus to the site broke down',
];
const LATER = ['hand in plaster until then', 'the borrowed auger came back late'];

/**
 * The teacher enters what is known: work on paper is received first and scored after; what was handed in is there by
 * itself, so many times. `excused`: how many reasons were used before; gives how many after.
 */
async function enterScores(
  teacher: Client,
  path: string,
  a: DemoAssessment,
  drawn: readonly Drawn[],
  handedIn: ReadonlyMap<string, number>,
  excused: number,
): Promise<number> {
  const versions = new Map(handedIn);
  const changesOf = (d: Drawn) => d.cell.changes.filter((c) => c.kind !== 'received' || a.work === undefined);
  for (const round of [0, 1]) {
    const isException = (d: Drawn): boolean => ['state', 'due'].includes(changesOf(d)[round]?.kind ?? '');
    for (const d of drawn.filter(isException)) {
      const change = changesOf(d)[round]!;
      const reasons = change.kind === 'due' ? LATER : EXCUSED;
      await teacher.send('POST', `${path}/changes`, {
        operation: operation(),
        kind: 'exception',
        title: change.kind === 'due' ? 'own due date' : 'excused',
        reason: reasons[excused++ % reasons.length],
        cells: [{ assessment: a.id, enrolment: d.enrolment, version: versions.get(d.enrolment) ?? 0, change }],
      });
    }
    const wanted = drawn.filter((d) => changesOf(d)[round] !== undefined && !isException(d));
    if (wanted.length === 0) continue;
    await teacher.send('POST', `${path}/intake`, {
      operation: operation(),
      title: round === 0 ? a.title : `${a.title}, scores of late work`,
      cells: wanted.map((d) => ({
        assessment: a.id,
        enrolment: d.enrolment,
        version: versions.get(d.enrolment) ?? 0,
        change: changesOf(d)[round],
      })),
    });
    for (const d of wanted) versions.set(d.enrolment, (versions.get(d.enrolment) ?? 0) + 1);
  }
  return excused;
}
