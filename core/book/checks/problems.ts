/** One fault of a document: where (JSON pointer, RFC 6901) and what, as a plain sentence. */
export interface Problem {
  at: string;
  says: string;
}

export const LISTED = 1000;

/** Gathers problems, lists the first {@link LISTED} and counts the rest (contract, section 1). */
export class Problems {
  readonly listed: Problem[] = [];
  more = 0;

  add(at: string, says: string): void {
    if (this.listed.length < LISTED) this.listed.push({ at, says });
    else this.more++;
  }

  get none(): boolean {
    return this.listed.length === 0;
  }
}

/** Keys with a sign that must be written otherwise are rare, and every key of a document comes by here. */
const ESCAPED = /[~/]/;

export const pointer = (at: string, key: string | number): string =>
  typeof key === 'number' || !ESCAPED.test(key)
    ? `${at}/${key}`
    : `${at}/${key.replaceAll('~', '~0').replaceAll('/', '~1')}`;
