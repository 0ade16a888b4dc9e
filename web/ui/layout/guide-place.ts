import { Injectable, signal } from '@angular/core';

/** What of the guide belongs to what is open, and whether the guide stands beside it. */
@Injectable({ providedIn: 'root' })
export class GuidePlace {
  /** The guide is open beside the page. */
  readonly open = signal(false);
  /** Said by a page that knows better than its address: "rules/lateness". */
  readonly own = signal<string | null>(null);
  /** Asked for by somebody: it stays until the page changes. */
  readonly asked = signal<string | null>(null);

  show(place: string): void {
    this.asked.set(place);
    this.open.set(true);
  }
}

const OF_BOOK: Record<string, string> = {
  ledger: 'ledger',
  assessments: 'assessments',
  marking: 'marking',
  rehearsal: 'assessments#rehearse-it',
  people: 'people',
  exceptions: 'exceptions',
  rules: 'rules',
  intake: 'intake',
  release: 'release',
  closing: 'closing',
  journal: 'journal',
  as: 'student',
  student: 'ledger#one-student',
};
const OF_PAGE: Record<string, string> = {
  desk: 'desk',
  where: 'assessments#where-is',
  news: 'desk#new',
  'new-book': 'people#make-a-book',
  settings: 'settings',
  my: 'student',
  begin: 'beginning',
};

/** The page of the guide for an address of the application, with its part: "ledger", "assessments#rehearse-it". */
export function guidePlace(address: string): string {
  const [first = '', second = '', third = '', , fifth = ''] = address.split(/[?#]/)[0]!.split('/').slice(1);
  if (first === 'book') {
    if (third === 'assessments' && fifth === 'rubric') return 'marking#a-rubric';
    if (third === 'assessments' && fifth === 'arrivals') return 'assessments#what-came-in';
    if (third === 'assessments' && address.split('/').length > 4) return 'assessments#change-one';
    if (third === 'student' && fifth !== '') return 'assessments#several-attempts';
    return OF_BOOK[third] ?? '';
  }
  if (first === 'my' && third !== '') return 'student#hand-in';
  if (first === 'office') return second === 'rules' ? 'school-rules' : 'office';
  return OF_PAGE[first] ?? '';
}
