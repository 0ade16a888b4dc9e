/** Matching the rows of a file to the students of a book. */
export interface RosterStudent {
  /** The student's id in the book document. */
  id: string;
  /** The school's own number for the student. */
  number: string;
  family: string;
  given: string;
  mail: string;
}

export type Matched =
  | { kind: 'found'; id: string; by: 'number' | 'mail' | 'name' }
  | { kind: 'several'; message: string }
  | { kind: 'none' };

/** Letters without accents and case, words one space apart: how names and numbers are compared. */
export const plain = (text: string): string =>
  text
    .normalize('NFKD')
    .replace(/\p{M}/gu, '')
    .toLocaleLowerCase()
    .replace(/[\s\u00a0]+/g, ' ')
    .trim();

/** Looks up students by number, mail address, "Family, Given" or "Given Family". */
export class Roster {
  private readonly numbers = new Map<string, string[]>();
  private readonly mails = new Map<string, string[]>();
  private readonly names = new Map<string, string[]>();

  constructor(students: readonly RosterStudent[]) {
    const put = (map: Map<string, string[]>, key: string, id: string): void => {
      const k = plain(key);
      if (k === '') return;
      const ids = map.get(k) ?? [];
      if (!ids.includes(id)) ids.push(id);
      map.set(k, ids);
    };
    for (const s of students) {
      put(this.numbers, s.number, s.id);
      put(this.mails, s.mail, s.id);
      put(this.names, `${s.family}, ${s.given}`, s.id);
      put(this.names, `${s.family} ${s.given}`, s.id);
      put(this.names, `${s.given} ${s.family}`, s.id);
    }
  }

  find(cell: string): Matched {
    const key = plain(cell);
    if (key === '') return { kind: 'none' };
    for (const [map, by] of [
      [this.numbers, 'number'],
      [this.mails, 'mail'],
      [this.names, 'name'],
    ] as const) {
      const ids = map.get(key);
      if (!ids) continue;
      if (ids.length > 1)
        return { kind: 'several', message: `${ids.length} students have the ${by} “${cell}”; use the student number.` };
      return { kind: 'found', id: ids[0]!, by };
    }
    return { kind: 'none' };
  }
}
