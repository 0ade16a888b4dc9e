import { createHmac } from 'node:crypto';
import { Refusal } from '../../kernel/refusal';

/** Where an id of a student stands: nowhere else is one looked for, so that words that somebody writes stay what they are. */
const NAMES_STUDENT: ReadonlySet<string> = new Set(['enrolment', 'enrolments', 'student']);
/** Lists whose entries are students, by their `id`. */
const STUDENTS = 'students';

/**
 * One assessment looked at without saying whose work is whose: every student has another id there, made with the school's
 * key, and a reed's name in the order of these ids, which is nobody's order.
 */
export class Veil {
  private readonly byAlias = new Map<string, string>();
  private readonly byEnrolment = new Map<string, string>();
  private readonly names = new Map<string, string>();

  constructor(
    readonly assessment: string,
    key: Buffer,
    book: string,
    enrolments: readonly string[],
  ) {
    for (const e of enrolments) {
      const alias = `r-${createHmac('sha256', key).update(`${book} ${assessment} ${e}`).digest('hex').slice(0, 20)}`;
      this.byAlias.set(alias, e);
      this.byEnrolment.set(e, alias);
    }
    const digits = Math.max(2, String(enrolments.length).length);
    [...this.byAlias.keys()]
      .sort()
      .forEach((alias, i) => this.names.set(this.byAlias.get(alias)!, `Reed ${String(i + 1).padStart(digits, '0')}`));
  }

  aliasOf(enrolment: string): string {
    const alias = this.byEnrolment.get(enrolment);
    if (alias === undefined) throw new Error('a student without an alias');
    return alias;
  }

  /** What a student is called. */
  nameOf(enrolment: string): string {
    return this.names.get(enrolment) ?? 'a student';
  }

  /** The same with aliases in the place of students' ids. */
  toAliases<T>(value: T): T {
    return withStudents(value, (id) => this.byEnrolment.get(id) ?? id) as T;
  }

  /** The same with the students whom the aliases mean; refuses one who is named by what they are called elsewhere. */
  fromAliases<T>(value: T): T {
    return withStudents(value, (id) => {
      if (this.byEnrolment.has(id)) throw new Refusal('not-found', 'There is no such student in this book.');
      return this.byAlias.get(id) ?? id;
    }) as T;
  }

  /** A file's name says whose it is more often than not: its number and kind stand in its place. */
  fileName(name: string, at: number): string {
    return `file ${at + 1}${/\.[A-Za-z0-9]{1,5}$/.exec(name)?.[0] ?? ''}`;
  }
}

function withStudents(value: unknown, of: (id: string) => string, key = ''): unknown {
  if (typeof value === 'string') return NAMES_STUDENT.has(key) ? of(value) : value;
  if (Array.isArray(value)) return value.map((v) => withStudents(v, of, key));
  if (typeof value !== 'object' || value === null || Object.getPrototypeOf(value) !== Object.prototype) return value;
  return Object.fromEntries(
    Object.entries(value).map(([name, v]) => {
      // Anybody's own, which nothing reads.
      if (name === 'info') return [name, v];
      return [name, name === 'id' && key === STUDENTS && typeof v === 'string' ? of(v) : withStudents(v, of, name)];
    }),
  );
}
