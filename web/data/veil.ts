/** The assessment that an address of a book leads to without names, as `book~assessment`; '' none. */
export const veiledIn = (book: string): string => book.split('~')[1] ?? '';

/** The book itself. */
export const plainBook = (book: string): string => book.split('~')[0]!;

interface Assessment {
  id: string;
  namesHidden: boolean;
}

/** The same book, looked at by name or, where names are hidden in the assessment, without. */
export const bookFor = (book: string, assessment: Assessment | undefined): string =>
  assessment?.namesHidden ? `${plainBook(book)}~${assessment.id}` : plainBook(book);

/** Pages of one assessment that name no student but by what the book does. */
const OF_ONE = /^(?:marking\/([^/]+)(?:\/sheet)?|assessments\/([^/]+)\/(?:arrivals|rubric))$/;

/**
 * Where an address of a book leads in place of itself, as names in its assessment are hidden by now, or not any more; null:
 * it is right. Who was looked at has another id there, so it is not said.
 */
export function veiledAddress(address: string, assessments: readonly Assessment[]): string | null {
  const [, book = '', page = ''] = /^\/book\/([^/?#]+)\/([^?#]*)/.exec(address) ?? [];
  if (book === '') return null;
  const [, marked, listed] = OF_ONE.exec(page) ?? [];
  const id = marked ?? listed ?? (page === 'exceptions' ? veiledIn(book) : '');
  const right = bookFor(book, assessments.find((a) => a.id === id)); // prettier-ignore
  return right === book ? null : `/book/${right}/${page}`;
}
