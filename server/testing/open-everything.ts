import type { Route } from '../http/route';
import type { Person } from './person';

/** Whom a way in is open to. */
export const loginOf = ({ permission }: Route): string =>
  permission === 'student' ? 'ada' : permission === 'office' || permission === 'staff-or-office' ? 'office' : 'teacher';

const QUERIES: Record<string, string> = { 'as-of': '?at=1', between: '?from=1&to=1' };

/** Every page of the book, of the desk, of the office and of a student, by what reads it: those that do not open. */
export async function unopened(routes: readonly Route[], as: (login: string) => Promise<Person>): Promise<string[]> {
  const pages = routes.filter(
    // The description of the API says the same whatever a school holds.
    (r) => r.method === 'get' && !('stream' in r) && !/\{(?!book\})/.test(r.path) && r.path !== '/openapi.json',
  );
  const people = new Map<string, Person>();
  for (const login of new Set(pages.map(loginOf))) people.set(login, await as(login));
  const wrong = await Promise.all(
    pages.map(async (page) => {
      const path = page.path.replace('{book}', 'fens') + (QUERIES[page.path.split('/').pop()!] ?? '');
      const answer = await people.get(loginOf(page))!.send<{ detail?: string; code?: string }>('GET', path);
      // A student who was moved out is told so.
      const told = page.permission === 'student' && answer.status === 404;
      // Final grades are not worked out without what is hidden.
      const hidden = answer.body?.code === 'names-hidden' && page.path.endsWith('final-grades.csv');
      return answer.status < 300 || told || hidden ? [] : [`${path}: ${answer.status} ${answer.body.detail}`];
    }),
  );
  return wrong.flat();
}
