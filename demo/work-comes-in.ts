import { type Client, operation } from './client';
import type { DemoAssessment, DemoBook } from './data/demo-book';
import { demoWork } from './files/work';
import type { Drawn } from './fill-book';
import type { DemoStudents } from './hand-in';
import { Random } from './random';
import { dublin } from './scores';
import type { Term } from './term';

const HOUR = 3_600_000;
const hoursAfter = (at: string, hours: number): string => new Date(Date.parse(at) + hours * HOUR).toISOString();
/** Everything that comes in is there before the demo's day. */
const BEFORE = '11-24T08:30';

const QUESTIONS = [
  { asks: 'Does the sketch of the pit count, or the table alone?', answer: 'Both; the sketch is a quarter of it.' },
  { asks: 'My auger came back on Thursday. May I measure the fourth station later?', answer: null },
  { asks: 'Is the map to be drawn by hand?', answer: 'As you like, with a scale.' },
  { asks: 'Which of the two pH readings is meant, the first or the mean?', answer: null },
];

/**
 * Lets students hand in what is drawn for them, each at their moment: some twice, one in the last second, some with a
 * question, some that break off. Gives how many times each handed in.
 */
export function workComesIn(
  term: Term,
  desks: DemoStudents,
  teacher: Client,
  book: DemoBook,
  a: DemoAssessment,
  drawn: readonly Drawn[],
): Map<string, number> {
  const random = new Random(book.id.length * 31 + a.id.length * 131 + a.points);
  const path = `/my/books/${book.id}/assessments/${a.id}`;
  const statement = (a.work!['statement'] as string | undefined) ?? null;
  const attempts = (a.work!['attempts'] as number | undefined) ?? 1;
  const due = dublin(a.due!);
  const times = new Map<string, number>();
  const handsIn = (d: Drawn, n: number, at: string): void => {
    times.set(d.enrolment, (times.get(d.enrolment) ?? 0) + 1);
    const own = new Random(Math.floor(random.next() * 1e9));
    term.at(at, async () => {
      const of = { id: a.id, title: `${a.title}, ${book.title}`, author: `${d.student.given} ${d.student.family}`, at };
      await desks.handIn(d.student, path, await demoWork(own, n, of), statement);
    });
  };
  let asked = 0;
  let last = false;
  drawn.forEach((d, n) => {
    const cameAt = d.cell.cameAt;
    if (cameAt === null) {
      if (d.cell.changes.length === 0 && n % 11 === 4) breaksOff(term, desks, d, path, due);
      return;
    }
    const late = cameAt > due;
    // One of each class in the last seconds.
    const at = !late && !last && a.phase === 'marking' ? hoursAfter(due, -6_000 / HOUR) : cameAt;
    last = last || at !== cameAt;
    if (attempts > 1 && !late && at === cameAt && n % 9 === 5) handsIn(d, n + 1, hoursAfter(cameAt, -20));
    handsIn(d, n, at);
    const q = a.phase !== 'released' && n % 7 === 3 ? QUESTIONS[asked++ % QUESTIONS.length]! : null;
    if (!q) return;
    const asks = hoursAfter(at, -3);
    term.at(asks, () => desks.ask(d.student, path, q.asks));
    const { answer } = q;
    if (answer !== null)
      term.at(hoursAfter(asks, 2), async () => {
        const thread = `/books/${book.id}/assessments/${a.id}/threads/${d.enrolment}`;
        await teacher.send('POST', thread, { operation: operation(), seen: 1, text: answer });
      });
  });
  return times;
}

/** Begins to send two files; the second breaks off and is never heard of again. */
function breaksOff(term: Term, desks: DemoStudents, d: Drawn, path: string, due: string): void {
  const at = [hoursAfter(due, -1), dublin(BEFORE)].sort()[0]!;
  term.at(at, () => {
    const files = [400_000, 1_200_000].map((length, n) => ({
      name: `plot ${n + 1}.mov`,
      bytes: Buffer.alloc(length, n + 1),
      breaksOffAt: n === 0 ? length : Math.floor(length * 0.4),
    }));
    return desks.begin(d.student, path, { files, typed: '', link: '' });
  });
}
