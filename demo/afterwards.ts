import { type Client, operation } from './client';
import type { DemoBook } from './data/demo-book';
import type { DemoStudent } from './data/people';
import type { DemoCell } from './scores';

/** What happens after release: a score put right, a first few of a marked set released early, an own date. */
export async function afterwards(
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
  if (book.showsStanding) await teacher.send('PATCH', path, { operation: operation(), showsStanding: true });
}
