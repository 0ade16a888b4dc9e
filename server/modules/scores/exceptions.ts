import { canonical } from '@core/book/canonical';
import type { EntryContent } from '@core/book/change';
import { soundContent } from '@core/book/checks/validate-cell';
import { exceptionsIn, type CellException, type ExceptionKind } from '@core/book/exceptions';
import { assessmentsOf, findBook, marksOf, overridesOf, rulesAt, studentsOf, type StudentRow } from '../books';
import { type Db } from '../../kernel/database';
import { readCells } from '../../kernel/cells/sql';
import { personName } from '../accounts';
import { sincesOf, endsOf, WHOLE, type ExceptionEnd, type Since } from './sql/exception-ends';
import type { ExceptionLine, ExceptionList } from '@contract/scores';
/** Which part of a cell's content a kind of exception is in; the journal is asked when it last changed. */
const PARTS: Record<CellException, string[]> = {
  excused: ['state'],
  missing: ['state'],
  awaiting: ['state'],
  extension: ['dueAt', 'closesAt'],
  allowance: ['lateAllowances'],
  waiver: ['onTime'],
  set: ['set'],
  protected: ['protected'],
};

function saidOf(kind: CellException, content: EntryContent): Partial<ExceptionLine> {
  if (kind === 'extension')
    return {
      ...(content.dueAt ? { dueAt: content.dueAt } : {}),
      ...(content.closesAt ? { closesAt: content.closesAt } : {}),
    };
  if (kind === 'allowance') return { number: content.lateAllowances! };
  if (kind === 'set') return { number: content.set! };
  return {};
}

/** Every exception of a book, with since when, by whom and why. */
export async function exceptionsOf(db: Db, school: string, book: string): Promise<ExceptionList> {
  const row = (await findBook(db, school, book))!;
  const students = await studentsOf(db, school, book);
  const here = new Set(students.map((s) => s.id));
  const rules = await rulesAt(db, school, book, row.rulesVersion);
  const marks = new Map((await assessmentsOf(db, school, book)).map((a) => [a.id, marksOf(rules, a)]));
  const overrides = (await overridesOf(db, school, book)).filter((o) => here.has(o.enrolment));
  const found: (Omit<ExceptionLine, 'since' | 'by' | 'reason' | 'until'> & {
    from: { kind: 'cell' | 'override' | 'enrol'; parts: string[] };
  })[] = [];
  for (const c of await readCells(db, school, book))
    if (here.has(c.enrolment) && marks.has(c.assessment)) {
      const content = soundContent(c.content, marks.get(c.assessment)!);
      for (const kind of exceptionsIn(content))
        found.push({
          enrolment: c.enrolment,
          assessment: c.assessment,
          kind,
          ...saidOf(kind, content),
          from: fromOf(kind),
        });
    }
  for (const s of students)
    if (s.extraTimeHours > 0)
      found.push({
        enrolment: s.id,
        assessment: null,
        kind: 'extra-time',
        number: s.extraTimeHours,
        from: fromOf('extra-time'),
      });
  for (const o of overrides)
    if (o.percent !== null || o.letter !== null)
      found.push({
        enrolment: o.enrolment,
        assessment: null,
        kind: 'override',
        ...(o.percent === null ? {} : { number: o.percent }),
        ...(o.letter === null ? {} : { letter: o.letter }),
        from: fromOf('override'),
      });
  const places = found.map((f) => ({ enrolment: f.enrolment, assessment: f.assessment, ...f.from }));
  const since = new Map((await sincesOf(db, school, book, places)).map((s) => [s.i, s]));
  const until = new Map((await endsOf(db, school, book)).map((e) => [`${e.enrolment} ${e.place} ${e.kind}`, e]));
  return {
    wantsReasons: row.wantsReasons,
    overrides: overrides.map(({ enrolment, version }) => ({ enrolment, version })),
    lines: found.map(({ from: _from, ...f }, i) => {
      const s = since.get(i);
      return {
        ...f,
        since: s?.at ?? null,
        by: s ? personName({ ...s, role: 'staff' }) : '',
        reason: s?.reason ?? '',
        until: endOf(until.get(`${f.enrolment} ${f.assessment ?? WHOLE} ${f.kind}`), s),
      };
    }),
  };
}

/** The end of an exception, where it was said for this one and not for one that was ended before. */
export const endOf = (end: ExceptionEnd | undefined, since: Since | undefined): string | null =>
  end && (since === undefined || end.setAt >= since.at) ? end.until : null;

/** What the journal calls the place of an exception. */
export const fromOf = (kind: ExceptionKind): { kind: 'cell' | 'override' | 'enrol'; parts: string[] } =>
  kind === 'extra-time'
    ? { kind: 'enrol', parts: ['extraTimeHours'] }
    : kind === 'override'
      ? { kind: 'override', parts: ['percent', 'letter'] }
      : { kind: 'cell', parts: PARTS[kind] };
/** Where a student is, as the journal writes it. */
export const enrolText = (
  s: Pick<StudentRow, 'section' | 'extraTimeHours' | 'left'> & { ownVariant?: string | null },
): string =>
  canonical({
    section: s.section,
    extraTimeHours: s.extraTimeHours,
    left: s.left,
    ...(s.ownVariant == null ? {} : { variant: s.ownVariant }),
  });
