import { cellKey } from '@contract/wire/cell-key';
import type { Attempt, Entry, StatedState } from '@core/book/document';
import type { Db } from '../../../kernel/database';

interface Column {
  assessment: string;
  enrolments: string;
  numbers: string;
  scores: string;
  received: string;
  late: string;
  onTime: string;
}
interface Special {
  assessment: string;
  enrolment: string;
  state: StatedState | null;
  dueAt: string | null;
  closesAt: string | null;
  lateAllowances: number | null;
  set: number | null;
  protected: boolean;
}

/**
 * The entries of a book as its document has them, without versions and what was released: what a trial of many large
 * books needs, several times faster than {@link readCells}. Attempts come as one text a column for each assessment; of
 * entries only those that hold more than attempts have a row of their own here.
 */
export async function documentEntries(db: Db, school: string, book: string): Promise<Entry[]> {
  const values = [school, book];
  const { rows: columns } = await db.query<Column>(
    // In no order: sorting tens of thousands of texts takes the database longer than all the rest.
    `select assessment, string_agg(enrolment, ',') as enrolments, string_agg(number::text, ',') as numbers,
       string_agg(coalesce(score::float8::text, ''), ',') as scores,
       string_agg(coalesce((date_part('epoch', received_at) * 1000)::text, ''), ',') as received,
       string_agg(coalesce(late_units::text, ''), ',') as late,
       string_agg(case when on_time then '1' else '' end, ',') as "onTime"
     from attempt where school = $1 and book = $2 group by assessment`,
    values,
  );
  const { rows: marks } = await db.query<{ assessment: string; enrolment: string; number: number; mark: string }>(
    'select assessment, enrolment, number, mark from attempt where school = $1 and book = $2 and mark is not null',
    values,
  );
  const { rows: special } = await db.query<Special>(
    `select assessment, enrolment, state, due_at as "dueAt", closes_at as "closesAt", late_allowances as "lateAllowances",
       set_points::float8 as set, protected from entry where school = $1 and book = $2
       and (state is not null or due_at is not null or closes_at is not null or late_allowances is not null
         or set_points is not null or protected)`,
    values,
  );
  const entries = columns.flatMap(entriesOf);
  if (marks.length === 0 && special.length === 0) return entries;
  const at = new Map(entries.map((e) => [cellKey(e.student, e.item), e]));
  for (const m of marks) at.get(cellKey(m.enrolment, m.assessment))!.attempts![m.number - 1]!.mark = m.mark;
  for (const s of special) {
    let entry = at.get(cellKey(s.enrolment, s.assessment));
    if (!entry) entries.push((entry = { student: s.enrolment, item: s.assessment }));
    if (s.state) entry.state = s.state;
    if (s.dueAt !== null) entry.dueAt = s.dueAt;
    if (s.closesAt !== null) entry.closesAt = s.closesAt;
    if (s.lateAllowances) entry.lateAllowances = s.lateAllowances;
    if (s.set !== null) entry.set = s.set;
    if (s.protected) entry.protected = true;
  }
  return entries;
}

/** The attempts of one assessment. */
function entriesOf(c: Column): Entry[] {
  const [enrolments, numbers, scores, received, late, onTime] = [
    c.enrolments,
    c.numbers,
    c.scores,
    c.received,
    c.late,
    c.onTime,
  ].map((text) => text.split(','));
  const entries: Entry[] = [];
  const later: [number, Attempt][] = [];
  for (const [i, student] of enrolments!.entries()) {
    const attempt: Attempt = {};
    if (scores![i] !== '') attempt.score = Number(scores![i]);
    if (received![i] !== '') attempt.receivedAt = new Date(Math.round(Number(received![i]))).toISOString();
    if (onTime![i] !== '') attempt.onTime = true;
    if (late![i] !== '') attempt.lateUnits = Number(late![i]);
    if (numbers![i] === '1') entries.push({ student, item: c.assessment, attempts: [attempt] });
    else later.push([i, attempt]);
  }
  if (later.length === 0) return entries;
  // Attempts are numbered from 1 without a gap, and come in no order.
  const byStudent = new Map(entries.map((e) => [e.student, e]));
  for (const [i, attempt] of later) byStudent.get(enrolments![i]!)!.attempts![Number(numbers![i]) - 1] = attempt;
  return entries;
}
