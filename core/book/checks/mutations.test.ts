import { Ajv2020 } from 'ajv/dist/2020.js';
import { describe, expect, it } from 'vitest';
import { computeBook } from '../../calculation/result';
import { Choices, randomBook } from '../../testing/random-book';
import { anyBook } from '../../testing/random-policies';
import { tries } from '../../testing/tries';
import { checkBook, LARGEST, MOST_CELLS, readBook } from './check';
import type { BookDocument } from '../document';
import { resultSchema } from '../result-schema';
import { bookSchema } from '../schema';

type Json = Record<string, unknown>;
interface Place {
  at: string;
  holder: Json | unknown[];
  key: string | number;
}

/** Every place of a document that a check must look at; what `info` holds is nobody's business. */
function placesOf(value: unknown, at = ''): Place[] {
  if (typeof value !== 'object' || value === null) return [];
  return Object.keys(value).flatMap((key) => {
    if (key === 'info') return [];
    const here = `${at}/${key.replaceAll('~', '~0').replaceAll('/', '~1')}`;
    const holder = value as Json;
    return [{ at: here, holder, key }, ...placesOf(holder[key], here)];
  });
}

/** One fault put into a document: where it is, and what was done. Null where this place cannot hold such a fault. */
const FAULTS: Record<string, (p: Place, c: Choices) => string | null> = {
  'a value of a wrong kind': (p, c) => {
    const was = (p.holder as Json)[p.key];
    const other = [[], {}, 'Ω not known Ω', -7.5, true, null].filter(
      (v) => typeof v !== typeof was || Array.isArray(v) !== Array.isArray(was),
    );
    (p.holder as Json)[p.key] =
      typeof was === 'boolean' ? 'yes' : typeof was === 'number' ? c.pick(['1', [], true]) : other[c.int(0, 2)];
    return p.at;
  },
  'a negative number': (p) => put(p, 'number', -1),
  'five decimals': (p) => put(p, 'number', 1.23456),
  'a number past all bounds': (p, c) => put(p, 'number', c.pick([1e308, 1e9 + 1, Infinity, NaN])),
  'a key that is not known': (p) => {
    const value = (p.holder as Json)[p.key];
    if (typeof value !== 'object' || value === null || Array.isArray(value)) return null;
    // Rules and sections may have any name: there the value is the fault.
    (value as Json)['colour'] = 'red';
    return `${p.at}/colour`;
  },
  'a key of an object’s own kind': (p) => {
    const value = (p.holder as Json)[p.key];
    if (typeof value !== 'object' || value === null || Array.isArray(value)) return null;
    Object.defineProperty(value, '__proto__', {
      value: { points: 1 },
      enumerable: true,
      configurable: true,
      writable: true,
    });
    return `${p.at}/__proto__`;
  },
  'a required key left out': (p) => {
    const required = [
      'format',
      'timeZone',
      'asOf',
      'blank',
      'rounding',
      'tree',
      'students',
      'entries',
      'decimals',
      'mode',
      'id',
      'type',
      'combine',
      'children',
      'points',
      'student',
      'item',
      'beforeDue',
      'afterDue',
      'bands',
      'label',
      'from',
      'kind',
      'node',
      'atLeast',
      'capAt',
    ];
    const inNode = 'type' in p.holder;
    const optional =
      (p.key === 'blank' && p.at !== '/blank') ||
      (p.key === 'points' && !inNode && !('kind' in p.holder)) ||
      p.at.startsWith('/rules/marks');
    if (!required.includes(String(p.key)) || optional || (p.key === 'item' && Array.isArray(p.holder))) return null;
    delete (p.holder as Json)[p.key];
    return p.at.slice(0, p.at.lastIndexOf('/'));
  },
  'a name that nothing has': (p) => {
    if (!['late', 'blank', 'scale', 'marks', 'node', 'student', 'item', 'mark'].includes(String(p.key))) return null;
    return put(p, 'string', 'nobody');
  },
  'a moment that does not exist': (p, c) => {
    if (!['asOf', 'due', 'closes', 'dueAt', 'closesAt', 'receivedAt'].includes(String(p.key))) return null;
    return put(
      p,
      'string',
      c.pick([
        '2027-02-30T00:00:00Z',
        '2027-01-01T00:00:00',
        '1899-12-31T23:59:59Z',
        '2027-01-01T25:00:00Z',
        '2027-01-0aT00:00:00Z',
        '2027-01-01T00:00:00.1234Z',
      ]),
    );
  },
  'the same once more': (p) => {
    if (!/^\/(students|entries|overrides)\/\d+$/.test(p.at)) return null;
    const list = p.holder as unknown as unknown[];
    list.push(structuredClone((p.holder as Json)[p.key]));
    return p.at.replace(/\d+$/, String(list.length - 1));
  },
};

function put(p: Place, kind: string, value: unknown): string | null {
  if (typeof (p.holder as Json)[p.key] !== kind) return null;
  // A line curve's pairs and a curve's own addition have bounds of their own.
  if (kind === 'number' && 'kind' in p.holder && (p.holder as Json)['kind'] === 'add' && value === -1) return null;
  (p.holder as Json)[p.key] = value;
  return p.at;
}

/** The same books are made faulty in every way: each is made once. */
const booksMade = new Map<number, string>();
function copyOfBook(seed: number): BookDocument {
  const made = booksMade.get(seed) ?? JSON.stringify(anyBook(seed));
  booksMade.set(seed, made);
  return JSON.parse(made) as BookDocument;
}

/** Places of a book that are looked at for one that can hold a fault, before another book is taken. */
const LOOKS = 300;

/** Puts a fault into a book, at a place that can hold it; gives where. Null: none was found. */
function spoil(book: BookDocument, fault: (p: Place, c: Choices) => string | null, c: Choices): string | null {
  const all = placesOf(book);
  for (let look = 0; look < LOOKS; look++) {
    const at = fault(all[c.int(0, all.length - 1)]!, c);
    if (at !== null) return at;
  }
  return null;
}

describe('a sound book with one fault anywhere', () => {
  it.each(Object.keys(FAULTS))('is refused for %s, with a pointer at it', (kind) => {
    let tried = 0;
    for (let seed = 0; tried < tries(150) && seed < tries(300); seed++) {
      const c = new Choices(seed * 31 + kind.length);
      const book = copyOfBook(seed);
      const at = spoil(book, FAULTS[kind]!, c);
      if (at === null) continue;
      const checked = checkBook(book);
      if (checked.ok) throw new Error(`book ${seed} passes with ${kind} at ${at}`);
      const found = checked.problems.some(
        (p) => p.at === at || p.at.startsWith(`${at}/`) || (at.startsWith(`${p.at}/`) && p.at !== ''),
      );
      // A key left out of the whole document is told at the whole.
      if (!found && !(at === '' && checked.problems.some((p) => p.at === '')))
        throw new Error(`book ${seed}, ${kind} at ${at}: only ${JSON.stringify(checked.problems.slice(0, 3))}`);
      for (const p of checked.problems) expect(p.says).toMatch(/^.+\.$|-$/s);
      tried++;
    }
    expect(tried).toBe(tries(150));
  });
});

describe('hostile text', () => {
  const small = (part: Partial<BookDocument>): string => JSON.stringify({ ...randomBook(1), ...part });
  // What would take for ever runs into the test's own limit.
  const refused = (text: string): string[] => {
    const checked = readBook(text);
    expect(checked.ok).toBe(false);
    return checked.ok ? [] : checked.problems.map((p) => p.at);
  };

  it('nested 10,000 and a million deep ends in a sentence', () => {
    const deep = (n: number): string =>
      `${'{"id":"g","type":"group","combine":"points","children":['.repeat(n)}${']}'.repeat(n)}`;
    const book = (tree: string): string => small({ tree: 'TREE' as never }).replace('"TREE"', tree);
    refused(book(deep(10_000)));
    refused(`${'['.repeat(1_000_000)}${']'.repeat(1_000_000)}`);
    refused(book('['.repeat(200_000) + ']'.repeat(200_000)));
  });

  it(`with ${tries(1_000_000)} bands or hurdles is worked out or refused in bounded time`, () => {
    const many = <T>(make: (i: number) => T): T[] => Array.from({ length: tries(1_000_000) }, (_, i) => make(i));
    const book = randomBook(1);
    const bands = many((i) => ({ label: `b${i}`, from: i / 1000 }));
    const wide = { ...book, scale: 'letters', rules: { ...book.rules, scales: { letters: { bands } } } };
    const checked = checkBook(wide);
    expect(checked.ok).toBe(true);
    if (checked.ok) expect(computeBook(checked.book).students).toHaveLength(book.students.length);
    refused(small({ hurdles: many(() => ({ node: 'none', atLeast: 1, capAt: 2 })) }));
  });

  it('refuses more than 128 MiB of bytes, and more cells than anybody could hold', () => {
    expect(readBook(' '.repeat(LARGEST + 1))).toMatchObject({ ok: false, problems: [{ at: '' }] });
    // Fewer characters than bytes: an ä takes two.
    expect(readBook(`"${'ä'.repeat(LARGEST / 2)}"`)).toMatchObject({
      ok: false,
      problems: [{ says: 'The document is larger than 128 MiB.' }],
    });
    const students = Array.from({ length: MOST_CELLS / 1000 + 1 }, (_, i) => ({ id: `s${i}` }));
    const children = Array.from({ length: 1000 }, (_, i) => ({ id: `i${i}`, type: 'item' as const, points: 1 }));
    expect(
      checkBook({
        ...randomBook(1),
        hurdles: [],
        overrides: [],
        entries: [],
        students,
        tree: { id: 'all', type: 'group', combine: 'points', children },
      }),
    ).toMatchObject({
      ok: false,
      problems: [{ at: '/students' }],
    });
  });

  it('takes names of an object’s own kind for names and nothing else', () => {
    for (const name of ['__proto__', 'constructor', 'toString', 'hasOwnProperty']) {
      const text = small({ blank: name });
      expect(refused(text)).toEqual(['/blank']);
    }
    const own = randomBook(1);
    const text = JSON.stringify({ ...own, blank: 'RULE' })
      .replaceAll('"RULE"', '"__proto__"')
      .replace('"blank":{', '"blank":{"__proto__":{"beforeDue":"zero","afterDue":"skip"},');
    const checked = readBook(text);
    expect(checked.ok).toBe(true);
    if (checked.ok) expect(computeBook(checked.book).students).toHaveLength(own.students.length);
  });
});

describe('the schemas', () => {
  const ajv = new Ajv2020({ strict: false });
  const isBook = ajv.compile(bookSchema);
  const isResult = ajv.compile(resultSchema);

  it('pass every sound book and every result', () => {
    for (let seed = 0; seed < tries(400); seed++) {
      const book = JSON.parse(JSON.stringify(anyBook(seed))) as BookDocument;
      if (!isBook(book)) throw new Error(`book ${seed}: ${ajv.errorsText(isBook.errors)}`);
      const result = computeBook(book);
      if (!isResult(result)) throw new Error(`result ${seed}: ${ajv.errorsText(isResult.errors)}`);
    }
  });

  it('refuse what is of a wrong shape', () => {
    for (const kind of ['a value of a wrong kind', 'a negative number', 'a key that is not known']) {
      let tried = 0;
      for (let seed = 0; tried < 60; seed++) {
        const book = copyOfBook(seed);
        if (spoil(book, FAULTS[kind]!, new Choices(seed)) === null) continue;
        tried++;
        if (isBook(book)) throw new Error(`the schema passes book ${seed} with ${kind}`);
      }
    }
  });
});
