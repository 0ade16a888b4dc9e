import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { rulesOf } from '../book/assemble';
import { canonical } from '../book/canonical';
import { checkBook } from '../book/checks/check';
import { firstRules } from '../book/first-rules';
import type { BookDocument, LateRule } from '../book/document';
import { randomBook } from '../testing/random-book';
import { smallBook } from '../testing/books';
import { placedItems, settingsOf, proposedBook } from '../proposal/proposal';
import { checkSchoolRules } from './check';
import { deviationKey, deviationsOf, newDeviations, type Governed } from './deviations';
import { POLICY_AREAS, OPEN_SCHOOL, ENFORCEMENTS, type SchoolRules, type Enforcement } from './document';
import { applyPolicy } from './apply-policy';

const governed = (book: BookDocument): Governed => ({
  rules: rulesOf(book),
  items: Object.fromEntries(placedItems(book).map(({ item }) => [item.id, settingsOf(item)])),
});
/** All of a book after a turn of its school's rules, and the book with that made. */
function after(was: SchoolRules, is: SchoolRules, book: BookDocument): { made: Governed; book: BookDocument } {
  const wish = applyPolicy(was, is, governed(book));
  const made = proposedBook(book, wish);
  return { made: governed(made), book: made };
}

/** A school that says what some random book says. */
function schoolOf(seed: number, stands: Enforcement[], days: number[], closures: [number, number][]): SchoolRules {
  const { rules, blank, late, scale, rounding, lateAllowanceHours } = rulesOf(randomBook(seed));
  const bare = Object.entries(rules?.late ?? {}).map(([name, rule]) => {
    const { skipDays: _w, skipDates: _d, ...rest } = rule;
    return [name, rest];
  });
  const date = (n: number): string => new Date(Date.UTC(2026, 11, 20 + n)).toISOString().slice(0, 10);
  return {
    format: OPEN_SCHOOL.format,
    rules: { ...rules, late: Object.fromEntries(bare) as Record<string, LateRule> },
    blank,
    ...(late === undefined ? {} : { late }),
    ...(scale === undefined ? {} : { scale }),
    rounding,
    ...(lateAllowanceHours === undefined ? {} : { lateAllowanceHours }),
    calendar: {
      days,
      closures: closures.map(([from, long], i) => ({ title: `Closure ${i}`, from: date(from), to: date(from + long) })),
    },
    stands: Object.fromEntries(POLICY_AREAS.map((m, i) => [m, stands[i]!])) as Record<
      (typeof POLICY_AREAS)[number],
      Enforcement
    >,
  };
}
const arbSchool = fc
  .tuple(
    fc.nat(20_000),
    fc.array(fc.constantFrom(...ENFORCEMENTS), { minLength: POLICY_AREAS.length, maxLength: POLICY_AREAS.length }),
    fc.uniqueArray(fc.integer({ min: 1, max: 7 }), { maxLength: 2 }),
    fc.array(fc.tuple(fc.nat(20), fc.nat(5)), { maxLength: 3 }),
  )
  .map(([seed, stands, days, closures]) => schoolOf(seed, stands, days, closures));
const arbBook = fc.nat(20_000).map(randomBook);
const keys = (school: SchoolRules, book: Governed): string[] => deviationsOf(school, book).map(deviationKey);

describe('a book that follows its school', () => {
  it('is sound, and in what is fixed departs in nothing', () => {
    fc.assert(
      fc.property(arbSchool, arbSchool, arbBook, (was, is, book) => {
        expect(checkSchoolRules(is)).toEqual({ ok: true, school: is });
        const { made, book: next } = after(was, is, book);
        // A mark that the school's set has no more is what alone can be wrong: the server asks for it.
        const checked = checkBook({ ...next, entries: [] });
        expect(checked.ok ? [] : checked.problems).toEqual([]);
        expect(deviationsOf(is, made).filter((d) => is.stands[d.matter] === 'fixed')).toEqual([]);
      }),
    );
  });

  it('changes nothing the second time, nor where the school says what it said', () => {
    fc.assert(
      fc.property(arbSchool, arbSchool, arbBook, (was, is, book) => {
        const once = after(was, is, book);
        const twice = after(is, is, once.book);
        expect(canonical(twice.made)).toBe(canonical(once.made));
        const free = { ...is, stands: OPEN_SCHOOL.stands };
        expect(applyPolicy(was, free, governed(book))).toEqual({ rules: rulesOf(book), items: {} });
      }),
    );
  });

  it('keeps what it departs in where it may', () => {
    fc.assert(
      fc.property(arbSchool, arbSchool, arbBook, (first, is, book) => {
        const may = (s: SchoolRules): SchoolRules => ({
          ...s,
          stands: Object.fromEntries(POLICY_AREAS.map((m) => [m, 'begins'])) as SchoolRules['stands'],
        });
        const [was, next] = [may(first), may(is)];
        const { made } = after(was, next, book);
        const before = governed(book);
        const sets = { late: 'late', blank: 'blank', marks: 'marks', letters: 'scales' } as const;
        for (const d of deviationsOf(was, before)) {
          if (d.matter === 'calendar' || d.matter === 'allowance' || d.matter === 'rounding') continue;
          const set = sets[d.matter];
          const { place } = d;
          if (place.kind === 'rule') {
            // Its days are the calendar's, and may have become others.
            const [has, had] = [made.rules, before.rules].map((r) => r.rules?.[set]?.[place.name] as LateRule);
            const bare = (r: LateRule | undefined) => ({ ...r, skipDays: 0, skipDates: 0 });
            expect(set === 'late' ? bare(has) : has).toEqual(set === 'late' ? bare(had) : had);
          }
          if (place.kind === 'default' && set !== 'marks')
            expect((set === 'scales' ? made.rules.scale : made.rules[set]) ?? null).toBe(d.is);
        }
      }),
    );
  });

  it('that says nothing of its own goes by all that the school says, whatever it said before', () => {
    const plain = { ...smallBook(), ...firstRules([{ id: 'a', title: 'A', weight: 1 }]) };
    fc.assert(
      fc.property(fc.array(arbSchool, { minLength: 1, maxLength: 4 }), (schools) => {
        let book: BookDocument = { ...plain, scale: null, entries: [] };
        let was = OPEN_SCHOOL;
        for (const is of schools) {
          // What was said before and is free now stays with the book; it is what it begins with that is followed.
          const said = {
            ...is,
            stands: Object.fromEntries(POLICY_AREAS.map((m) => [m, 'begins'])) as SchoolRules['stands'],
          };
          const { made, book: next } = after(was, said, book);
          expect(keys(said, made)).toEqual([]);
          [was, book] = [said, next];
        }
      }),
    );
  });

  it('keeps days of its own beside the calendar’s, and is not told the days that it does not leave out', () => {
    const late = (days: Partial<LateRule>): LateRule => ({ unit: 'day', deduct: 10, ...days });
    const book = smallBook({
      rules: {
        ...smallBook().rules,
        late: {
          own: late({ skipDays: [6, 7], skipDates: ['2027-01-01', '2027-01-20'] }),
          none: late({}),
        },
      },
      late: 'own',
    });
    const school = (closures: string[], stand: Enforcement): SchoolRules => ({
      ...OPEN_SCHOOL,
      calendar: { days: [6, 7], closures: closures.map((d) => ({ title: d, from: d, to: d })) },
      stands: { ...OPEN_SCHOOL.stands, calendar: stand },
    });
    const was = school(['2027-01-01'], 'begins');
    const { made } = after(was, school(['2027-01-04'], 'begins'), book);
    expect(made.rules.rules!.late!['own']).toMatchObject({ skipDays: [6, 7], skipDates: ['2027-01-04', '2027-01-20'] });
    expect(made.rules.rules!.late!['none']).toEqual(late({}));
    expect(deviationsOf(was, governed(book)).map((d) => [d.place, d.is])).toEqual([
      [
        { kind: 'rule', name: 'own' },
        { more: ['2027-01-20'], less: [] },
      ],
      [
        { kind: 'rule', name: 'none' },
        { more: [], less: ['2027-01-01', '6', '7'] },
      ],
    ]);
    const fixed = after(was, school(['2027-01-04'], 'fixed'), book).made.rules.rules!.late!;
    for (const rule of Object.values(fixed))
      expect(rule).toMatchObject({ skipDays: [6, 7], skipDates: ['2027-01-04'] });
  });

  it('does not take a rule of its own for the school’s because it has its name', () => {
    const own: LateRule = { unit: 'day', deduct: 1 };
    const book = smallBook({ rules: { ...smallBook().rules, late: { steady: own } }, late: null });
    const says = {
      ...OPEN_SCHOOL,
      late: 'steady',
      rules: { ...OPEN_SCHOOL.rules, late: { steady: { ...own, deduct: 20 } } },
    };
    const begins = { ...says, stands: { ...says.stands, late: 'begins' as const } };
    expect(after(OPEN_SCHOOL, begins, book).made.rules).toMatchObject({ late: null, rules: { late: { steady: own } } });
    const fixed = { ...says, stands: { ...says.stands, late: 'fixed' as const } };
    expect(after(OPEN_SCHOOL, fixed, book).made.rules).toMatchObject({
      late: 'steady',
      rules: { late: { steady: { deduct: 20 } } },
    });
  });

  it('knows a rule for lateness by each thing that it says, late days for the term and what closes too', () => {
    const own: LateRule = { unit: 'day', deduct: 10 };
    const bank = { units: 3, perItem: 2 };
    const others: LateRule[] = [
      { ...own, unit: 'hour' },
      { ...own, deduct: 20 },
      { ...own, max: 50 },
      { ...own, of: 'earned' },
      { ...own, floor: 40 },
      { ...own, graceMinutes: 5 },
      { ...own, afterCloses: 100 },
      { ...own, bank },
      { ...own, bank: { ...bank, units: 2 } },
      { ...own, bank: { units: 3 } },
      { steps: [{ hours: 24, deduct: 10 }], after: 100 },
      { steps: [{ hours: 24, deduct: 10 }], after: 50 },
    ];
    const all = [own, ...others];
    for (const says of all)
      for (const has of all) {
        const book = smallBook({ rules: { ...smallBook().rules, late: { steady: has } }, late: 'steady' });
        const school: SchoolRules = {
          ...OPEN_SCHOOL,
          late: 'steady',
          rules: { ...OPEN_SCHOOL.rules, late: { steady: says } },
          stands: { ...OPEN_SCHOOL.stands, late: 'fixed' },
        };
        expect(deviationsOf(school, governed(book)).length > 0).toBe(says !== has);
        const { made } = after(OPEN_SCHOOL, school, book);
        expect(made.rules.rules!.late!['steady']).toEqual(says);
        expect(deviationsOf(school, made)).toEqual([]);
      }
  });

  it('takes an assessment for itself alone, whatever it is called', () => {
    const items = ['constructor', 'toString', '__proto__'].map((id) => ({ id, type: 'item' as const, points: 10 }));
    const book = smallBook({
      rules: { ...smallBook().rules, late: { own: { unit: 'day', deduct: 1 } } },
      late: null,
      tree: { ...smallBook().tree, children: items.map((i, n) => (n === 1 ? { ...i, late: 'own' } : i)) },
    });
    const fixed = { ...OPEN_SCHOOL, stands: { ...OPEN_SCHOOL.stands, late: 'fixed' as const } };
    const wish = applyPolicy(OPEN_SCHOOL, fixed, governed(book));
    expect(Object.keys(wish.items)).toEqual(['toString']);
    const made = proposedBook(book, wish);
    expect(made.tree.children).toEqual(items);
    expect(checkBook(made).ok).toBe(true);
  });

  it('departs by what is new in it alone', () => {
    const school = { ...OPEN_SCHOOL, stands: { ...OPEN_SCHOOL.stands, rounding: 'begins' as const } };
    const was = governed(smallBook());
    const is = { ...was, rules: { ...was.rules, rounding: { decimals: 2, mode: 'down' as const } } };
    expect(newDeviations(school, was, is)).toEqual([
      { matter: 'rounding', place: { kind: 'value' }, is: is.rules.rounding, school: school.rounding },
    ]);
    expect(newDeviations(school, is, is)).toEqual([]);
    expect(newDeviations(school, null, is)).toHaveLength(1);
  });
});
