import { createHmac } from 'node:crypto';

/** An alias of a student in one assessment: nothing else has such an id. */
export const ALIAS = /^r-[0-9a-f]{20}$/;

/** What can be an id within a text. */
const WORD = /[A-Za-z0-9._-]{4,64}/g;

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

  /** The same with aliases in the place of every student's id, in keys too. */
  toAliases<T>(value: T): T {
    return replaced(value, (text) => text.replace(WORD, (word) => this.byEnrolment.get(word) ?? word)) as T;
  }

  /** The same with the students whom the aliases mean. */
  fromAliases<T>(value: T): T {
    return replaced(value, (text) => (ALIAS.test(text) ? (this.byAlias.get(text) ?? text) : text)) as T;
  }

  /** A file's name says whose it is more often than not: its number and kind stand in its place. */
  fileName(name: string, at: number): string {
    return `file ${at + 1}${/\.[A-Za-z0-9]{1,5}$/.exec(name)?.[0] ?? ''}`;
  }
}

function replaced(value: unknown, of: (text: string) => string): unknown {
  if (typeof value === 'string') return of(value);
  if (Array.isArray(value)) return value.map((v) => replaced(v, of));
  if (typeof value !== 'object' || value === null || Object.getPrototypeOf(value) !== Object.prototype) return value;
  return Object.fromEntries(Object.entries(value).map(([k, v]) => [of(k), replaced(v, of)]));
}
