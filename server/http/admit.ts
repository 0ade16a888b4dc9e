import type { Request } from 'express';
import type pg from 'pg';
import { Refusal } from '../domain/problems';
import { findBook, roleInBook, type BookRole } from '../store/books';
import { findPerson, type Person } from '../store/people';
import type { Permission } from './route';

export interface Admitted {
  person: Person | null;
  role: BookRole | 'administrator' | null;
}

/** Which roles in a book open which door. An administrator reads every book, and changes none here. */
const BOOK_DOORS: Partial<Record<Permission, readonly (BookRole | 'administrator')[]>> = {
  'book-read': ['teacher', 'co-teacher', 'marker', 'administrator'],
  'book-scores': ['teacher', 'co-teacher', 'marker'],
  'book-manage': ['teacher', 'co-teacher'],
  'book-make': ['teacher', 'co-teacher'],
};

/** Lets a request through, or refuses it. What is not allowed by name is refused. */
export async function admit(
  pool: pg.Pool,
  permission: Permission,
  request: Request,
  params: Record<string, string>,
): Promise<Admitted> {
  if (permission === 'anyone') return { person: null, role: null };
  const { school, person: id } = request.session;
  const person = school && id ? await findPerson(pool, school, id) : null;
  if (!person)
    throw new Refusal('not-signed-in', 'You are not signed in any more. Sign in again; what you typed is still here.');
  if (permission === 'signed-in') return { person, role: null };
  if (permission === 'office' && person.role === 'administrator') return { person, role: null };
  if (permission === 'staff' && person.role === 'staff') return { person, role: null };
  if (permission === 'student' && person.role === 'student') return { person, role: null };
  const doors = BOOK_DOORS[permission];
  if (doors && person.role !== 'student')
    return { person, role: await bookRole(pool, person, params['book'] ?? '', doors) };
  throw new Refusal('not-allowed', 'This is not open to you.');
}

async function bookRole(
  pool: pg.Pool,
  person: Person,
  book: string,
  doors: readonly string[],
): Promise<BookRole | 'administrator'> {
  const role =
    person.role === 'administrator'
      ? ('administrator' as const)
      : await roleInBook(pool, person.school, book, person.id);
  // A book that is not theirs is not there for them.
  if (role === null || !(await findBook(pool, person.school, book)))
    throw new Refusal('not-found', 'You have no such book.');
  if (!doors.includes(role))
    throw new Refusal(
      'not-allowed',
      role === 'administrator'
        ? 'The office reads this book and does not change it.'
        : 'Only the teachers of this book may do this.',
    );
  return role;
}
