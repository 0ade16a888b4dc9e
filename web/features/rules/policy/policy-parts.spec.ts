import { describe, expect, it } from 'vitest';
import { canonical } from '@core/book/canonical';
import { checkSchoolRules } from '@core/policy/check';
import { deviationsOf } from '@core/policy/deviations';
import { POLICY_AREAS, OPEN_SCHOOL, type SchoolRules } from '@core/policy/document';
import { placedItems } from '@core/proposal/proposal';
import { rulesOf } from '@core/book/assemble';
import { randomBook } from '@core/testing/random-book';
import { locale } from '../../../ui/text/locale';
import { loadDayReader } from '../../../ui/text/read-day';
import { dayWords, readDays } from '../words/day-list';
import { departureWords } from '../words/departure-words';
import { draftOf, type Draft } from '../draft';
import { plainWords, type Piece } from '../sentences/sentence';
import { asTheSchoolHasIt, governedIn, sameSchool, schoolDraftOf, schoolRulesOf } from './policy-draft';
import { policyParts } from './policy-parts';

const PARTS = policyParts('2026-11-24');
const SCHOOL: SchoolRules = {
  ...OPEN_SCHOOL,
  rules: {
    ...OPEN_SCHOOL.rules,
    late: { steady: { unit: 'day', deduct: 10 }, steps: { steps: [{ hours: 24, deduct: 5 }], after: 50 } },
    marks: { words: [{ label: 'Yes', percent: 100 }] },
    scales: {
      letters: {
        bands: [
          { label: 'A', from: 80 },
          { label: 'F', from: 0 },
        ],
      },
    },
  },
  late: 'steady',
  scale: 'letters',
  calendar: { days: [6, 7], closures: [{ title: 'Winter closure', from: '2026-12-21', to: '2027-01-03' }] },
  stands: Object.fromEntries(POLICY_AREAS.map((m) => [m, 'begins'])) as SchoolRules['stands'],
};

/** The draft after a word has been set to something else; null where there is nothing else. */
function setOtherwise(p: Exclude<Piece, string>): Draft | null {
  switch (p.kind) {
    case 'number':
      return p.set(p.value > 0 ? p.value - 1 : p.value + 1);
    case 'choice': {
      const to = p.choices.find((c) => c.value !== p.value);
      return to ? p.set(to.value) : null;
    }
    case 'many':
      return p.set(p.value.includes('1') ? [] : ['1']);
    case 'word': {
      const next = p.set(/day of closure/.test(p.label) ? '3 Mar 2027' : 'Another');
      return 'message' in next ? null : next;
    }
    case 'act':
      return p.does();
  }
}

describe('what the school says, in sentences', () => {
  it('reads without a gap, and every word of it leads to rules that are sound', () => {
    const draft = schoolDraftOf(SCHOOL);
    const before = canonical(schoolRulesOf(draft));
    let words = 0;
    for (const part of PARTS)
      for (const s of part.sentences(draft)) {
        expect(plainWords(s)).not.toMatch(/undefined|NaN|null|\[object|\s\s| [.,;]/);
        for (const piece of s.pieces) {
          if (typeof piece === 'string') continue;
          const next = setOtherwise(piece);
          const where = `${part.id}: ${piece.label}`;
          expect(canonical(schoolRulesOf(draft)), where).toBe(before);
          if (next === null) continue;
          words++;
          expect(sameSchool(draft, next as typeof draft), where).toBe(false);
          const checked = checkSchoolRules(schoolRulesOf(next as typeof draft));
          expect(checked.ok ? [] : checked.problems, where).toEqual([]);
        }
      }
    expect(words).toBeGreaterThan(40);
  });

  it('says nothing in what books are free in but that they are', () => {
    for (const part of PARTS)
      expect(part.sentences(schoolDraftOf(OPEN_SCHOOL)).map(plainWords)).toEqual(['Books are free in this.']);
  });

  it('is what a book has again that departed, in each matter by itself', () => {
    let departed = 0;
    for (let seed = 0; seed < 60; seed++) {
      const book = randomBook(seed);
      const draft = draftOf(rulesOf(book), placedItems(book), (id) => id);
      for (const d of deviationsOf(SCHOOL, governedIn(draft))) {
        departed++;
        const words = departureWords(d, 'name' in d.place ? d.place.name : 'Work');
        expect(words).toMatch(/^\S.*[.”]$/);
        expect(words).not.toMatch(/undefined|NaN|null|\[object/);
        const back = asTheSchoolHasIt(draft, SCHOOL, [d.matter]);
        expect(deviationsOf(SCHOOL, governedIn(back)).filter((x) => x.matter === d.matter)).toEqual([]);
      }
    }
    expect(departed).toBeGreaterThan(200);
  });
});

describe('a list of days', () => {
  it('says days on end as a span, and reads what it says', () => {
    const dates = ['2026-12-21', '2026-12-22', '2026-12-23', '2027-01-01', '2027-01-02', '2027-02-08'];
    expect(dayWords(dates)).toBe('21 Dec 2026 to 23 Dec 2026, 1 Jan 2027, 2 Jan 2027, 8 Feb 2027');
    expect(readDays(dayWords(dates))).toEqual({ dates });
    for (const dash of [' – ', '–', ' - ', ' to '])
      expect(readDays(`28 Feb 2028${dash}1 Mar 2028`)).toEqual({ dates: ['2028-02-28', '2028-02-29', '2028-03-01'] });
  });

  it('reads days as they are written elsewhere too', async () => {
    await loadDayReader('de-DE');
    locale.set('de-DE');
    expect(readDays('24. Dezember 2026, 31.12.2026')).toEqual({ dates: ['2026-12-24', '2026-12-31'] });
    locale.set('en-US');
    expect(readDays('12/24/2026 to 12/26/2026')).toEqual({ dates: ['2026-12-24', '2026-12-25', '2026-12-26'] });
    locale.set('en-GB');
    expect(readDays('24/12/2026')).toEqual({ dates: ['2026-12-24'] });
    expect(readDays('tomorrow')).toEqual({ message: expect.stringMatching(/no date with its year/) });
  });

  it('says what cannot be read', () => {
    const message = (text: string) => {
      const read = readDays(text);
      return 'message' in read ? read.message : read.dates;
    };
    expect(message('24 Dec')).toBe('“24 Dec” is no date with its year, such as 24 Dec 2026.');
    expect(message('24 Dec 2026 to Easter')).toBe('“Easter” is no date with its year, such as 24 Dec 2026.');
    expect(message('3 Jan 2027 to 1 Jan 2027')).toBe('“3 Jan 2027 to 1 Jan 2027” ends before it begins.');
    expect(message('1 Jan 2027 to 1 Jan 2029')).toBe('“1 Jan 2027 to 1 Jan 2029” is longer than a year.');
    expect(message('')).toEqual([]);
  });
});
