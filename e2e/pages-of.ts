import { WETLAND, type Tally } from './tally';

/** Addresses by kind: those of one kind are shown by one page, which stays when one goes from one to the other. */
export type Kinds = string[][];

export const BOOKS = [WETLAND, 'orchard-practice'];
const ofBooks = (path: string): string[] => BOOKS.map((book) => `/book/${book}/${path}`);
const SHARED: Kinds = [['/settings'], ['/guide/ledger', '/guide/rules'], ['/news']];

/** Of a teacher of both books. */
export async function staffPages(tally: Tally): Promise<Kinds> {
  const [farrelly, marchetti] = [await tally.enrolment('Farrelly'), await tally.enrolment('Marchetti')];
  const each = (ids: string[], path: (id: string) => string) => ids.map((id) => `/book/${WETLAND}/${path(id)}`);
  const both = (path: (a: string) => string): string[] => each(['soil-pit', 'report'], path);
  const student = (path: (s: string) => string): string[] => each([farrelly, marchetti], path);
  return [
    ...SHARED,
    ['/desk'],
    ['/new-book'],
    ['/where'],
    // An address that names no cell of the book that is open leaves the cursor where it is.
    ['/book/orchard-practice/ledger', ...both((a) => `ledger?assessment=${a}`)],
    ofBooks('assessments'),
    both((a) => `assessments/${a}`),
    both((a) => `assessments/${a}/arrivals`),
    both((a) => `assessments/${a}/rubric`),
    ofBooks('people'),
    ofBooks('exceptions'),
    ofBooks('rehearsal'),
    [...ofBooks('rules'), ...both((a) => `rules?of=${a}`)],
    ofBooks('intake'),
    [...ofBooks('release'), ...both((a) => `release?assessment=${a}`)],
    ofBooks('closing'),
    ofBooks('journal'),
    student((s) => `student/${s}`),
    student((s) => `student/${s}/check-1`),
    student((s) => `as/${s}`),
    both((a) => `marking/${a}/sheet`),
  ];
}

export const officePages: Kinds = [
  ...SHARED,
  ['/office'],
  ['/office/rules'],
  ['/where'],
  ofBooks('ledger'),
  ofBooks('people'),
  ofBooks('rules'),
  ofBooks('journal'),
  ofBooks('closing'),
];

/** Of a student who is in both books. */
export const studentPages: Kinds = [
  ...SHARED,
  ['/my'],
  [...BOOKS.map((book) => `/my/${book}`), ...['soil-pit', 'check-1'].map((a) => `/my/${WETLAND}?slip=${a}`)],
  ['soil-pit', 'report', 'check-1'].map((a) => `/my/${WETLAND}/${a}`),
];
