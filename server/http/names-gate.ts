import { isBookPermission } from '../kernel/permissions';
import { namesHidden, NO_NAMES_HIDDEN, type HiddenNames, type Names } from '../modules/hidden-names';
import type { Route } from './route';

/** What stands between a book and the one assessment of it that is looked at without names. */
const BETWEEN = '~';

/** The book that an address names, and the assessment where it is looked at through a veil: `book~assessment`. */
export function bookOf(route: Route, params: Record<string, string>): { book: string; assessment: string | null } {
  const book = params['book'] ?? '';
  const at = isBookPermission(route.permission) ? book.indexOf(BETWEEN) : -1;
  return at < 0 ? { book, assessment: null } : { book: book.slice(0, at), assessment: book.slice(at + 1) };
}

/** Makes out what may be told through this door, and refuses what may not. `params`: with the book alone, and students by their ids. */
export async function passNamesGate(
  hiddenNames: HiddenNames,
  route: Route,
  { school, hidden, params }: { school: string; hidden: readonly string[]; params: Record<string, string> },
  veiled: string | null,
): Promise<{ names: Names; params: Record<string, string> }> {
  if (!isBookPermission(route.permission) || (hidden.length === 0 && veiled === null))
    return { names: NO_NAMES_HIDDEN, params };
  const book = params['book']!;
  const names = await hiddenNames.of(school, book, hidden, veiled);
  // Through a veil a student is named by their alias alone: what somebody knows of them elsewhere opens nothing.
  const meant = names.veil ? names.veil.fromAliases(params) : params;
  await requireRule(hiddenNames, names, route, { school, book, params: meant });
  return { names, params: meant };
}

async function requireRule(
  hiddenNames: HiddenNames,
  names: Names,
  route: Route,
  at: { school: string; book: string; params: Record<string, string> },
): Promise<void> {
  const rule = route.names;
  if (rule === 'free' || rule === 'aware') return;
  if (rule === undefined) throw namesHidden();
  if (rule === 'named' || rule === 'shown') if (names.veil) throw namesHidden();
  if (rule === 'named') return;
  const { assessment, submission } = at.params;
  names.require(assessment ?? (await hiddenNames.assessmentOf(at.school, at.book, submission ?? '')) ?? '');
}
