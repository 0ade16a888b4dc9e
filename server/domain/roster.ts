import { createHash, randomBytes } from 'node:crypto';
import type {
  EnrolmentsWrite,
  Invitations,
  PeoplePage,
  RosterFate,
  RosterLine,
  RosterMade,
  RosterWrite,
} from '@contract/roster';
import type pg from 'pg';
import * as books from '../store/books';
import { newId, transaction, type Db } from '../store/database';
import { accountsOf, staysOf, studentsOf, writeEnrolments, type EnrolmentWrite } from '../store/enrolments';
import { putEnds, WHOLE } from '../store/exception-ends';
import * as journal from '../store/journal';
import { personByLogins, personName } from '../store/people';
import * as roster from '../store/roster';
import { enrolText, requireReason } from './exceptions';
import { operationOf } from './cells';
import { Refusal } from './problems';

/** Days that an invitation can be taken up in. */
const INVITED_DAYS = 14;

export async function peopleOf(db: Db, school: string, book: string): Promise<PeoplePage> {
  const [students, accounts, stays, staff] = [
    await studentsOf(db, school, book, true),
    await accountsOf(db, school, book),
    await staysOf(db, school, book),
    await books.staffOf(db, school, book),
  ];
  const invitees = new Map(
    (
      await roster.inviteesOf(
        db,
        school,
        staff.map((s) => s.login),
        null,
      )
    ).map((p) => [p.login, p.account]),
  );
  return {
    students: students.map(({ person: _p, ...s }) => ({
      ...s,
      ...accounts.get(s.id)!,
      stays: stays.filter((x) => x.enrolment === s.id).map(({ enrolment: _e, ...x }) => x),
    })),
    staff: staff.map((s) => ({
      login: s.login,
      name: personName(s),
      role: s.role,
      account: invitees.get(s.login) ?? 'none',
    })),
  };
}

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
  people: (roster.KnownStudent & { login: string })[];
  enrol: { id: string; person: string; section: string | null }[];
  move: { was: EnrolmentWrite; is: EnrolmentWrite }[];
}

const lower = (text: string): string => text.trim().toLowerCase();
const nameKey = (p: { family: string; given: string }): string => `${lower(p.family)}|${lower(p.given)}`;

/** Who in the school a line means: one person, nobody yet, or a sentence that says why that cannot be told. */
function whoIs(line: RosterLine, known: roster.KnownStudent[]): roster.KnownStudent | null | string {
  const number = line.number.trim();
  const mail = lower(line.mail);
  const byNumber = number === '' ? undefined : known.find((k) => k.number === number);
  const byMail = mail === '' ? undefined : known.find((k) => lower(k.mail) === mail);
  if (byNumber && byMail && byNumber !== byMail)
    return `The number is ${byNumber.given} ${byNumber.family}’s and the mail address ${byMail.given} ${byMail.family}’s.`;
  const found = byNumber ?? byMail;
  if (found) {
    const named = line.family.trim() !== '';
    if (named && lower(found.family) !== lower(line.family) && lower(found.given) !== lower(line.given))
      return `${number || line.mail} belongs to ${found.given} ${found.family} in this school.`;
    return found;
  }
  const alike = known.filter((k) => nameKey(k) === nameKey(line));
  if (number === '' && mail === '' && alike.length === 1) return alike[0]!;
  if (number === '' && mail === '' && alike.length > 1)
    return `${alike.length} students of the school are called ${line.given} ${line.family}: add the number or the mail address.`;
  return null;
}

/** What would become of every line. Nothing is written. */
async function plan(db: Db, school: string, book: string, lines: RosterLine[]): Promise<Plan> {
  const known = await roster.studentsLike(db, school, {
    numbers: lines.map((l) => l.number.trim()).filter(Boolean),
    mails: lines.map((l) => lower(l.mail)).filter(Boolean),
    names: lines.map(nameKey),
  });
  const sections = new Map((await books.sectionsOf(db, school, book)).map((s) => [lower(s.title), s.id]));
  const fresh: string[] = [];
  const enrolled = new Map((await studentsOf(db, school, book, true)).map((s) => [s.person, s]));
  const out: Plan = { fates: [], sections: fresh, people: [], enrol: [], move: [] };
  const seen = new Set<string>();
  const firstLogins = lines.map((l) => lower(l.mail).split('@')[0]!.slice(0, 100));
  const taken = await roster.loginsTaken(db, firstLogins);
  for (const line of lines) {
    const refuse = (says: string): void => void out.fates.push({ fate: 'refused', says });
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
        says: who ? `known in this school as ${who.given} ${who.family}${where && `, ${where}`}` : where,
      });
    } else if (here.left || (title !== '' && here.section !== section)) {
      const is = { ...here, section: title === '' ? here.section : section, left: false };
      out.move.push({ was: here, is });
      out.fates.push({ fate: here.left ? 'back' : 'moves', says: where.replace(/^in /, 'to ') });
    } else out.fates.push({ fate: 'here', says: '' });
  }
  return out;
}

/** Puts a list of students into a book, or says what would become of it. Lines that are refused are left out. */
export function takeRoster(pool: pg.Pool, who: journal.Who, office: boolean, write: RosterWrite): Promise<RosterMade> {
  return transaction(pool, async (db) => {
    const { school, book } = who;
    await journal.holdBook(db, school, book);
    const done = await journal.operationDone(db, school, book, write.operation);
    const p = await plan(db, school, book, write.lines);
    const titles = p.sections.map((s) => s.slice(s.indexOf(' ') + 1));
    const count = p.enrol.length + p.move.length;
    if (write.try || done !== null || count === 0) return { lines: p.fates, sections: titles, done: 0 };
    requireOfficeReason(office, write.reason);
    for (const s of p.sections)
      await books.putSection(db, school, book, s.slice(0, s.indexOf(' ')), s.slice(s.indexOf(' ') + 1));
    await addPeople(db, school, p.people);
    await roster.insertEnrolments(db, school, book, p.enrol);
    await writeEnrolments(
      db,
      school,
      book,
      p.move.map((m) => m.is),
    );
    const lines = [
      ...p.sections.map((s) => ({ kind: 'section' as const, enrolment: null, was: null, becomes: JSON.stringify(s) })),
      ...p.enrol.map((e) => ({
        kind: 'enrol' as const,
        enrolment: e.id,
        was: null,
        becomes: enrolText({ section: e.section, extraTimeHours: 0, left: false }),
      })),
      ...p.move.map((m) => ({
        kind: 'enrol' as const,
        enrolment: m.is.id,
        was: enrolText(m.was),
        becomes: enrolText(m.is),
      })),
    ].map((l, i) => ({ operation: operationOf(write.operation, i), assessment: null, ...l }));
    const first = await journal.lockBook(db, school, book, lines.length);
    await journal.writeLines(db, who, first, lines, { reason: write.reason });
    return { lines: p.fates, sections: titles, done: count };
  });
}

/** Sign-in names are looked up again with their numbers, as somebody else may have taken one meanwhile. */
async function addPeople(db: Db, school: string, people: Plan['people']): Promise<void> {
  if (people.length === 0) return;
  const taken = await roster.loginsTaken(
    db,
    people.map((p) => p.login),
  );
  for (const p of people)
    while (taken.has(p.login)) p.login = `${p.login.slice(0, 100)}.${randomBytes(2).toString('hex')}`;
  await roster.insertStudents(db, school, people);
}

/** The office changes a book only with a reason. */
function requireOfficeReason(office: boolean, reason: string): void {
  if (office && reason.trim() === '')
    throw new Refusal('bad-request', 'The office changes a book only with a reason. Nothing was changed.', {
      faults: [{ at: '/reason', says: 'say why' }],
    });
}

/** Moves students to another section, out and in again, or gives them extra time. Their scores go with them. */
export function changeEnrolments(
  pool: pg.Pool,
  who: journal.Who,
  office: boolean,
  write: EnrolmentsWrite,
): Promise<{ made: number }> {
  return transaction(pool, async (db) => {
    const { school, book } = who;
    await journal.holdBook(db, school, book);
    if ((await journal.operationDone(db, school, book, write.operation)) !== null) return { made: 0 };
    requireOfficeReason(office, write.reason);
    const sections = await books.sectionsOf(db, school, book);
    if (write.section && !sections.some((s) => s.id === write.section))
      throw new Refusal('bad-request', 'The book has no such section. Nobody was moved.');
    const byId = new Map((await studentsOf(db, school, book, true)).map((s) => [s.id, s]));
    const changed = [...new Set(write.enrolments)].map((id) => {
      const was = byId.get(id);
      if (!was) throw new Refusal('not-found', 'One of these students is not in this book. Nothing was changed.');
      const is = {
        ...was,
        section: write.section === undefined ? was.section : write.section,
        left: write.left ?? was.left,
        extraTimeHours: write.extraTimeHours ?? was.extraTimeHours,
      };
      return { was, is };
    });
    const makes = changed.some(({ was, is }) => is.extraTimeHours > 0 && is.extraTimeHours !== was.extraTimeHours);
    requireReason((await books.findBook(db, school, book))!, makes, write.reason);
    const moved = changed.filter(({ was, is }) => enrolText(was) !== enrolText(is));
    if (write.extraTimeHours !== undefined)
      await putEnds(
        db,
        who,
        changed.map(({ is }) => ({ enrolment: is.id, place: WHOLE })),
        'extra-time',
        write.extraTimeHours > 0 ? (write.until ?? null) : null,
      );
    if (moved.length === 0) return { made: 0 };
    await writeEnrolments(
      db,
      school,
      book,
      moved.map((m) => m.is),
    );
    const lines = moved.map(({ was, is }, i) => ({
      operation: operationOf(write.operation, i),
      kind: 'enrol' as const,
      assessment: null,
      enrolment: is.id,
      was: enrolText(was),
      becomes: enrolText(is),
    }));
    const first = await journal.lockBook(db, school, book, lines.length);
    await journal.writeLines(db, who, first, lines, { reason: write.reason });
    return { made: moved.length };
  });
}

/** Gives somebody of the staff a role in a book, or takes them off it. A book keeps at least one teacher. */
export function setStaff(
  pool: pg.Pool,
  who: journal.Who,
  office: boolean,
  login: string,
  write: { operation: string; role: books.BookRole | null; reason: string },
): Promise<{ done: true }> {
  return transaction(pool, async (db) => {
    const { school, book } = who;
    await journal.holdBook(db, school, book);
    if ((await journal.operationDone(db, school, book, write.operation)) !== null) return { done: true as const };
    requireOfficeReason(office, write.reason);
    const person = (await personByLogins(db, school, [login])).get(login);
    if (!person)
      throw new Refusal(
        'not-found',
        `Nobody on the staff signs in as “${login}”. The office adds people to the school.`,
      );
    const staff = await books.staffOf(db, school, book);
    const was = staff.find((s) => s.person === person)?.role ?? null;
    if (was === 'teacher' && write.role !== 'teacher' && staff.filter((s) => s.role === 'teacher').length === 1)
      throw new Refusal('bad-request', 'A book keeps at least one teacher. Nothing was changed.');
    const mine = staff.find((s) => s.person === who.person)?.role;
    if (!office && mine !== 'teacher' && (write.role === 'teacher' || was === 'teacher'))
      throw new Refusal('not-allowed', 'Only a teacher of this book makes teachers of it, or takes them off.');
    if (was === write.role) return { done: true as const };
    await books.putStaff(db, school, book, person, write.role);
    const line = {
      operation: write.operation,
      kind: 'staff' as const,
      assessment: null,
      enrolment: null,
      was: JSON.stringify({ login, role: was }),
      becomes: JSON.stringify({ login, role: write.role }),
    };
    await journal.writeLines(db, who, await journal.lockBook(db, school, book, 1), [line], { reason: write.reason });
    return { done: true as const };
  });
}

/** Makes a section, or gives it another title. */
export function setSection(
  pool: pg.Pool,
  who: journal.Who,
  office: boolean,
  id: string,
  write: { operation: string; title: string; reason: string },
): Promise<{ done: true }> {
  return transaction(pool, async (db) => {
    const { school, book } = who;
    await journal.holdBook(db, school, book);
    if ((await journal.operationDone(db, school, book, write.operation)) !== null) return { done: true as const };
    requireOfficeReason(office, write.reason);
    const sections = await books.sectionsOf(db, school, book);
    if (sections.some((s) => s.id !== id && lower(s.title) === lower(write.title)))
      throw new Refusal('already-there', `There is a section “${write.title}” already.`);
    await books.putSection(db, school, book, id, write.title.trim());
    const was = sections.find((s) => s.id === id)?.title ?? null;
    const line = {
      operation: write.operation,
      kind: 'section' as const,
      assessment: null,
      enrolment: null,
      was: was === null ? null : JSON.stringify(`${id} ${was}`),
      becomes: JSON.stringify(`${id} ${write.title.trim()}`),
    };
    await journal.writeLines(db, who, await journal.lockBook(db, school, book, 1), [line], { reason: write.reason });
    return { done: true as const };
  });
}

const hashOf = (secret: string): string => createHash('sha256').update(secret).digest('hex');

/**
 * Links with which people give themselves a password. A teacher invites students of the book who have none; only the
 * office gives a new one to somebody who has.
 */
export function invite(
  pool: pg.Pool,
  by: { school: string; person: string },
  logins: string[],
  book: string | null,
): Promise<Invitations> {
  return transaction(pool, async (db) => {
    const found = await roster.inviteesOf(db, by.school, logins, book);
    const missing = logins.filter((l) => !found.some((f) => f.login === l));
    if (missing.length > 0) throw new Refusal('not-found', `“${missing[0]}” is nobody here. Nobody was invited.`);
    const ready = book === null ? [] : found.filter((f) => f.account === 'ready' || f.role !== 'student');
    if (ready.length > 0)
      throw new Refusal(
        'not-allowed',
        `${personName({ ...ready[0]!, role: 'student' })} has a password already; only the office gives a new one. Nobody was invited.`,
      );
    const until = new Date(Date.now() + INVITED_DAYS * 86_400_000).toISOString();
    const invitations: Invitations['invitations'] = [];
    for (const f of found) {
      const secret = randomBytes(24).toString('base64url');
      await roster.putInvitation(db, {
        hash: hashOf(secret),
        school: by.school,
        person: f.person,
        by: by.person,
        until,
      });
      invitations.push({ login: f.login, name: personName(f), path: `/welcome#${secret}`, until });
    }
    return { invitations };
  });
}

/** Takes up an invitation; gives the sign-in name. */
export async function welcome(pool: pg.Pool, secret: string, passwordHash: string): Promise<string> {
  const login = await transaction(pool, (db) => roster.takeInvitation(db, hashOf(secret), passwordHash));
  if (login === null)
    throw new Refusal(
      'not-found',
      'This invitation was used already, or its days are over. Ask whoever sent it for a new one.',
    );
  return login;
}
