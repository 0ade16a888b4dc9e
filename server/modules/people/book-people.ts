import type { EnrolmentsWrite, PeoplePage } from '@contract/people';
import type pg from 'pg';
import { type Db } from '../../kernel/database';
import {
  type Author,
  commitBook,
  accountsOf,
  staysOf,
  studentsOf,
  writeEnrolments,
  staffOf,
  sectionsOf,
  findBook,
  type BookRole,
  putStaff,
  putSection,
  rulesAt,
} from '../books';
import { putEnds, WHOLE, enrolText, requireReason } from '../scores';
import { personByLogins, personName } from '../accounts';
import { Refusal } from '../../kernel/refusal';
import { type LineContent } from '../../kernel/journal/sql/lines';
import { inviteesOf } from './sql';

export async function peopleOf(db: Db, school: string, book: string): Promise<PeoplePage> {
  const [students, accounts, stays, staff] = [
    await studentsOf(db, school, book, true),
    await accountsOf(db, school, book),
    await staysOf(db, school, book),
    await staffOf(db, school, book),
  ];
  const invitees = new Map(
    (
      await inviteesOf(
        db,
        school,
        staff.map((s) => s.login),
        null,
      )
    ).map((p) => [p.login, p.account]),
  );
  return {
    students: students.map(({ person: _p, variant: _v, ...s }) => ({
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

/** The office changes a book only with a reason. */
export function requireOfficeReason(role: string | null, reason: string): void {
  if (role === 'administrator' && reason.trim() === '')
    throw new Refusal('bad-request', 'The office changes a book only with a reason. Nothing was changed.', {
      errors: [{ pointer: '/reason', detail: 'say why' }],
    });
}

/** Moves students to another section, out and in again, or gives them extra time. Their scores go with them. */
export function changeEnrolments(pool: pg.Pool, who: Author, write: EnrolmentsWrite): Promise<{ made: number }> {
  return commitBook(pool, who, write.operation, async (db, { role }) => {
    const { school, book } = who;
    requireOfficeReason(role, write.reason);
    const sections = await sectionsOf(db, school, book);
    if (write.section && !sections.some((s) => s.id === write.section))
      throw new Refusal('bad-request', 'The book has no such section. Nobody was moved.');
    if (write.variant != null) await requireVariant(db, who, write.variant);
    const byId = new Map((await studentsOf(db, school, book, true)).map((s) => [s.id, s]));
    const changed = [...new Set(write.enrolments)].map((id) => {
      const was = byId.get(id);
      if (!was) throw new Refusal('not-found', 'One of these students is not in this book. Nothing was changed.');
      const is = {
        ...was,
        section: write.section === undefined ? was.section : write.section,
        left: write.left ?? was.left,
        extraTimeHours: write.extraTimeHours ?? was.extraTimeHours,
        ownVariant: write.variant === undefined ? was.ownVariant : write.variant,
      };
      return { was, is };
    });
    const makes = changed.some(({ was, is }) => is.extraTimeHours > 0 && is.extraTimeHours !== was.extraTimeHours);
    requireReason((await findBook(db, school, book))!, makes, write.reason);
    const moved = changed.filter(({ was, is }) => enrolText(was) !== enrolText(is));
    if (moved.length > 0)
      await writeEnrolments(
        db,
        school,
        book,
        moved.map((m) => m.is),
      );
    const lines = moved.map(({ was, is }): LineContent => ({
      kind: 'enrol',
      assessment: null,
      enrolment: is.id,
      was: enrolText(was),
      becomes: enrolText(is),
    }));
    return {
      lines,
      reason: write.reason,
      async after() {
        if (write.extraTimeHours === undefined) return;
        const places = changed.map(({ is }) => ({ enrolment: is.id, place: WHOLE }));
        await putEnds(db, who, places, 'extra-time', write.extraTimeHours > 0 ? (write.until ?? null) : null);
      },
      answer: () => ({ made: moved.length }),
    };
  });
}

/** Gives somebody of the staff a role in a book, or takes them off it. A book keeps at least one teacher. */
export function setStaff(
  pool: pg.Pool,
  who: Author,
  login: string,
  write: { operation: string; role: BookRole | null; reason: string },
): Promise<{ done: true }> {
  return commitBook(pool, who, write.operation, async (db, { role }) => {
    const { school, book } = who;
    const office = role === 'administrator';
    requireOfficeReason(role, write.reason);
    const person = (await personByLogins(db, school, [login])).get(login);
    if (!person)
      throw new Refusal(
        'not-found',
        `Nobody on the staff signs in as “${login}”. The office adds people to the school.`,
      );
    const staff = await staffOf(db, school, book);
    const was = staff.find((s) => s.person === person)?.role ?? null;
    if (was === 'teacher' && write.role !== 'teacher' && staff.filter((s) => s.role === 'teacher').length === 1)
      throw new Refusal('bad-request', 'A book keeps at least one teacher. Nothing was changed.');
    const mine = staff.find((s) => s.person === who.person)?.role;
    if (!office && mine !== 'teacher' && (write.role === 'teacher' || was === 'teacher'))
      throw new Refusal('not-allowed', 'Only a teacher of this book makes teachers of it, or takes them off.');
    const answer = (): { done: true } => ({ done: true });
    if (was === write.role) return { lines: [], answer };
    await putStaff(db, school, book, person, write.role);
    const line: LineContent = {
      kind: 'staff',
      assessment: null,
      enrolment: null,
      was: JSON.stringify({ login, role: was }),
      becomes: JSON.stringify({ login, role: write.role }),
    };
    return { lines: [line], reason: write.reason, answer };
  });
}

/** Refuses a variant that the rules do not have. */
async function requireVariant(db: Db, { school, book }: Author, variant: string): Promise<void> {
  const rules = await rulesAt(db, school, book, (await findBook(db, school, book))!.rulesVersion);
  if (variant === 'info' || !Object.hasOwn(rules.variants ?? {}, variant))
    throw new Refusal(
      'bad-request',
      `The rules have no variant “${variant}”. Make it on Rules first. Nothing was changed.`,
    );
}

/** Makes a section, or gives it another title or another variant of the rules. */
export function setSection(
  pool: pg.Pool,
  who: Author,
  id: string,
  write: { operation: string; title: string; variant?: string | null; reason: string },
): Promise<{ done: true }> {
  return commitBook(pool, who, write.operation, async (db, { role }) => {
    const { school, book } = who;
    requireOfficeReason(role, write.reason);
    const sections = await sectionsOf(db, school, book);
    if (sections.some((s) => s.id !== id && s.title.trim().toLowerCase() === write.title.trim().toLowerCase()))
      throw new Refusal('already-there', `There is a section “${write.title}” already.`);
    const now = sections.find((s) => s.id === id);
    const was = now?.title ?? null;
    const variant = write.variant === undefined ? (now?.variant ?? null) : write.variant;
    if (write.variant != null) await requireVariant(db, who, write.variant);
    await putSection(db, school, book, { id, title: write.title.trim(), variant });
    const line: LineContent = {
      kind: 'section',
      assessment: null,
      enrolment: null,
      was: was === null ? null : JSON.stringify(`${id} ${was}`),
      becomes: JSON.stringify(`${id} ${write.title.trim()}`),
    };
    const lines = was === write.title.trim() ? [] : [line];
    if (variant !== (now?.variant ?? null))
      lines.push({
        kind: 'section-variant',
        assessment: null,
        enrolment: null,
        was: JSON.stringify({ section: id, variant: now?.variant ?? null }),
        becomes: JSON.stringify({ section: id, variant }),
      });
    return { lines, reason: write.reason, answer: () => ({ done: true }) };
  });
}
