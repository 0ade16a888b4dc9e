import { randomBytes } from 'node:crypto';
import type { RosterFate, RosterLine, RosterMade, RosterWrite } from '@contract/people';
import type pg from 'pg';
import type { BookTransaction } from '../../kernel/book-transaction';
import { newId, snapshot, type Db } from '../../kernel/database';
import {
  type Author,
  commitBook,
  studentsOf,
  writeEnrolments,
  type EnrolmentWrite,
  sectionsOf,
  putSection,
} from '../books';
import { requireOfficeReason } from './book-people';
import { enrolText } from '../scores';
import { type LineContent } from '../../kernel/journal/sql/lines';
import {
  type KnownPerson,
  type KnownStudent,
  studentsLike,
  loginsTaken,
  insertEnrolments,
  insertStudents,
} from './sql';

/** A plain sign-in name from a mail address or a name. */
function loginFor(line: RosterLine, taken: Set<string>): string {
  const plain = (text: string): string =>
    text
      .normalize('NFD')
      .toLowerCase()
      .replace(/[^a-z0-9]+/g, '.')
      .replace(/^\.+|\.+$/g, '');
  const base = (plain(line.mail.split('@')[0]!) || plain(`${line.given} ${line.family}`) || 'student').slice(0, 100);
  const start = base.length < 2 ? `${base}1` : base;
  let login = start;
  for (let n = 2; taken.has(login); n++) login = `${start}${n}`;
  taken.add(login);
  return login;
}

interface Plan {
  fates: RosterFate[];
  sections: string[];
  people: (KnownStudent & { login: string })[];
  enrol: { id: string; person: string; section: string | null }[];
  move: { was: EnrolmentWrite; is: EnrolmentWrite }[];
}

const lower = (text: string): string => text.trim().toLowerCase();
const nameKey = (p: { family: string; given: string }): string => `${lower(p.family)}|${lower(p.given)}`;

/** Who in the school a line means: one person, nobody yet, or a sentence that says why that cannot be told. */
function whoIs(line: RosterLine, known: KnownPerson[]): KnownStudent | null | string {
  const number = line.number.trim();
  const mail = lower(line.mail);
  const byNumber = number === '' ? undefined : known.find((k) => k.number === number);
  if (byNumber && !byNumber.isStudent)
    return `The number ${number} is that of ${byNumber.given} ${byNumber.family}, who is no student of this school.`;
  const students = known.filter((k) => k.isStudent);
  const byMail = mail === '' ? undefined : students.find((k) => lower(k.mail) === mail);
  if (byNumber && byMail && byNumber !== byMail)
    return `The number is ${byNumber.given} ${byNumber.family}’s and the mail address ${byMail.given} ${byMail.family}’s.`;
  const found = byNumber ?? byMail;
  if (found) {
    const named = line.family.trim() !== '';
    if (named && lower(found.family) !== lower(line.family) && lower(found.given) !== lower(line.given))
      return `${number || line.mail} belongs to ${found.given} ${found.family} in this school.`;
    return found;
  }
  const alike = students.filter((k) => nameKey(k) === nameKey(line));
  if (number === '' && mail === '' && alike.length === 1) return alike[0]!;
  if (number === '' && mail === '' && alike.length > 1)
    return `${alike.length} students of the school are called ${line.given} ${line.family}: add the number or the mail address.`;
  return null;
}

/** What would become of every line. Nothing is written. */
async function plan(db: Db, school: string, book: string, lines: RosterLine[]): Promise<Plan> {
  const known = await studentsLike(db, school, {
    numbers: lines.map((l) => l.number.trim()).filter(Boolean),
    mails: lines.map((l) => lower(l.mail)).filter(Boolean),
    names: lines.map(nameKey),
  });
  const sections = new Map((await sectionsOf(db, school, book)).map((s) => [lower(s.title), s.id]));
  const fresh: string[] = [];
  const enrolled = new Map((await studentsOf(db, school, book, true)).map((s) => [s.person, s]));
  const out: Plan = { fates: [], sections: fresh, people: [], enrol: [], move: [] };
  const seen = new Set<string>();
  const firstLogins = lines.map((l) => lower(l.mail).split('@')[0]!.slice(0, 100));
  const taken = await loginsTaken(db, firstLogins);
  for (const line of lines) {
    const refuse = (says: string): void => void out.fates.push({ fate: 'refused', message: says });
    if (line.family.trim() === '' && line.number.trim() === '' && line.mail.trim() === '') {
      refuse('There is no name, number or mail address.');
      continue;
    }
    const who = whoIs(line, known);
    if (typeof who === 'string') {
      refuse(who);
      continue;
    }
    if (who === null && line.family.trim() === '') {
      refuse(`Nobody in the school has ${line.number.trim() || line.mail.trim()}, and there is no name to add.`);
      continue;
    }
    const key = who?.person ?? (line.number.trim() || lower(line.mail) || nameKey(line));
    if (seen.has(key)) {
      refuse('The list has this student twice.');
      continue;
    }
    seen.add(key);
    const title = line.section.trim();
    let section: string | null = null;
    if (title !== '') {
      section = sections.get(lower(title)) ?? null;
      if (section === null) {
        section = newId('sec');
        sections.set(lower(title), section);
        fresh.push(`${section} ${title}`);
      }
    }
    const where = title === '' ? '' : `in ${title}`;
    const here = who && enrolled.get(who.person);
    if (!here) {
      const person = who?.person ?? newId('p');
      out.enrol.push({ id: newId('s'), person, section });
      if (!who) {
        const { family, given, number, mail } = line;
        out.people.push({
          person,
          family: family.trim(),
          given: given.trim(),
          number: number.trim(),
          mail: mail.trim(),
          login: loginFor(line, taken),
        });
      }
      out.fates.push({
        fate: who ? 'enrol' : 'new',
        message: who ? `known in this school as ${who.given} ${who.family}${where && `, ${where}`}` : where,
      });
    } else if (here.left || (title !== '' && here.section !== section)) {
      const is = { ...here, section: title === '' ? here.section : section, left: false };
      out.move.push({ was: here, is });
      out.fates.push({ fate: here.left ? 'back' : 'moves', message: where.replace(/^in /, 'to ') });
    } else out.fates.push({ fate: 'here', message: '' });
  }
  return out;
}

/** What would become of a list of students. */
export function tryRoster(pool: pg.Pool, who: Author, write: RosterWrite): Promise<RosterMade> {
  return snapshot(pool, async (db) => made(await plan(db, who.school, who.book, write.lines), 0));
}

const made = (p: Plan, done: number): RosterMade => ({
  lines: p.fates,
  sections: p.sections.map((s) => s.slice(s.indexOf(' ') + 1)),
  done,
});

/** Puts a list of students into a book. Lines that are refused are left out. */
export function takeRoster(pool: pg.Pool, who: Author, write: RosterWrite): Promise<RosterMade> {
  return commitBook(pool, who, write.operation, async (db, { role }) => {
    const { school, book } = who;
    const p = await plan(db, school, book, write.lines);
    const count = p.enrol.length + p.move.length;
    if (count === 0) return { lines: [], answer: () => made(p, 0) };
    requireOfficeReason(role, write.reason);
    for (const s of p.sections)
      await putSection(db, school, book, {
        id: s.slice(0, s.indexOf(' ')),
        title: s.slice(s.indexOf(' ') + 1),
        variant: null,
      });
    await addPeople(db, school, p.people);
    await insertEnrolments(db, school, book, p.enrol);
    await writeEnrolments(
      db,
      school,
      book,
      p.move.map((m) => m.is),
    );
    const enrolled = (id: string, was: string | null, becomes: string): LineContent => ({
      kind: 'enrol',
      assessment: null,
      enrolment: id,
      was,
      becomes,
    });
    return {
      lines: [
        ...p.sections.map((s): LineContent => ({
          kind: 'section',
          assessment: null,
          enrolment: null,
          was: null,
          becomes: JSON.stringify(s),
        })),
        ...p.enrol.map((e) => enrolled(e.id, null, enrolText({ section: e.section, extraTimeHours: 0, left: false }))),
        ...p.move.map((m) => enrolled(m.is.id, enrolText(m.was), enrolText(m.is))),
      ],
      reason: write.reason,
      answer: () => made(p, count),
    };
  });
}

/** Sign-in names are looked up again with their numbers, as somebody else may have taken one meanwhile. */
async function addPeople(db: BookTransaction, school: string, people: Plan['people']): Promise<void> {
  if (people.length === 0) return;
  const taken = await loginsTaken(
    db,
    people.map((p) => p.login),
  );
  for (const p of people)
    while (taken.has(p.login)) p.login = `${p.login.slice(0, 100)}.${randomBytes(2).toString('hex')}`;
  await insertStudents(db, school, people);
}
