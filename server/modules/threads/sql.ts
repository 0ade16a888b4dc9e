import type { MessageKind, OwnThreads, ThreadList, UnansweredQuestion } from '@contract/work/threads';
import type { BookTransaction } from '../../kernel/book-transaction';
import { newId, type Db } from '../../kernel/database';

export interface MessageRow {
  id: string;
  kind: MessageKind;
  person: string;
  family: string;
  given: string;
  text: string;
  at: string;
}

export interface ThreadPlace {
  school: string;
  book: string;
  assessment: string;
  enrolment: string;
}

/** All of one thread, the first at the top. */
export async function messagesOf(db: Db, t: ThreadPlace): Promise<MessageRow[]> {
  const { rows } = await db.query<MessageRow>(
    `select m.id, m.kind, m.person, p.family, p.given, m.body as text, m.at from message m
       join person p on p.school = m.school and p.id = m.person
     where m.school = $1 and m.book = $2 and m.assessment = $3 and m.enrolment = $4 order by m.nth`,
    [t.school, t.book, t.assessment, t.enrolment],
  );
  return rows;
}

export async function insertMessage(
  db: BookTransaction,
  t: ThreadPlace,
  m: { person: string; kind: MessageKind; text: string },
): Promise<string> {
  const id = newId('q');
  await db.query(
    `insert into message (school, book, id, assessment, enrolment, person, kind, body, at)
     values ($1, $2, $3, $4, $5, $6, $7, $8, school_now($1))`,
    [t.school, t.book, id, t.assessment, t.enrolment, m.person, m.kind, m.text],
  );
  return id;
}

/** The last message of every thread of these books; a draft answers nothing. */
const LAST = `select distinct on (m.book, m.assessment, m.enrolment) m.* from message m
  where m.school = $1 and m.book = any($2) and m.kind <> 'draft' order by m.book, m.assessment, m.enrolment, m.nth desc`;

/** Questions that wait for an answer in these books, the longest first: since the first that nobody has answered. */
export async function unansweredIn(
  db: Db,
  school: string,
  books: readonly string[],
): Promise<(Omit<UnansweredQuestion, 'whose'> & { family: string; given: string })[]> {
  const { rows } = await db.query<Omit<UnansweredQuestion, 'whose'> & { family: string; given: string }>(
    `select l.book, b.title as "bookTitle", l.assessment, a.title, l.enrolment, p.family, p.given,
       (select min(q.at) from message q where q.school = l.school and q.book = l.book and q.assessment = l.assessment
          and q.enrolment = l.enrolment and q.kind = 'question' and q.nth > coalesce((select max(x.nth) from message x
            where x.school = l.school and x.book = l.book and x.assessment = l.assessment and x.enrolment = l.enrolment
              and x.kind not in ('question', 'draft')), 0)) as since
     from (${LAST}) l
       join book b on b.school = l.school and b.id = l.book
       join assessment a on a.school = l.school and a.book = l.book and a.id = l.assessment
       join enrolment e on e.school = l.school and e.book = l.book and e.id = l.enrolment
       join person p on p.school = e.school and p.id = e.person
     where l.kind = 'question' order by since, l.nth`,
    [school, books],
  );
  return rows;
}

/** Which threads a student has, and whether the last in each is a question. What was set aside or drafted is not told. `afterLeaving`: of books that they left too. */
export async function threadsBy(db: Db, school: string, person: string, afterLeaving = false): Promise<OwnThreads> {
  const { rows } = await db.query<OwnThreads[number]>(
    `select m.book, m.assessment, (array_agg(m.kind order by m.nth desc))[1] = 'question' as unanswered
     from enrolment e join message m on m.school = e.school and m.book = e.book and m.enrolment = e.id
     where e.school = $1 and e.person = $2 and (e.left_at is null or $3) and m.kind in ('question', 'answer')
     group by m.book, m.assessment order by m.book, m.assessment`,
    [school, person, afterLeaving],
  );
  return rows;
}

/** How many messages each student's thread about an assessment has, and whether its last is a question, drafts left aside. */
export async function threadsOf(db: Db, school: string, book: string, assessment: string): Promise<ThreadList> {
  const { rows } = await db.query<ThreadList[number]>(
    `select enrolment, count(*)::int as messages,
       coalesce((array_agg(kind order by nth desc) filter (where kind <> 'draft'))[1] = 'question', false) as unanswered
     from message where school = $1 and book = $2 and assessment = $3 group by enrolment`,
    [school, book, assessment],
  );
  return rows;
}
