import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { readAssessment, type AssessmentContext, type AssessmentLine } from './new-assessment';

const context: AssessmentContext = {
  categories: [
    { id: 'field', title: 'Field notebooks' },
    { id: 'checks', title: 'Checks' },
    { id: 'charts', title: 'Charts' },
    { id: 'final', title: 'Final' },
  ],
  known: [
    { title: 'Peat core', category: 'field', points: 20 },
    { title: 'Hedge survey', category: 'field', points: 25 },
    { title: 'Pond transect', category: 'field', points: 20 },
    { title: 'Check 1', category: 'checks', points: 12 },
    { title: 'Check 2', category: 'checks', points: 15 },
  ],
  usual: 'field',
  day: (text) => (/^\d+ (nov|dec)/i.test(text) ? `day ${text}` : null),
};
const read = (text: string, more: Partial<AssessmentContext> = {}): AssessmentLine => {
  const r = readAssessment(text, { ...context, ...more });
  if (r.kind === 'refused') throw new Error(r.message);
  return r.line;
};
const refusal = (text: string, more: Partial<AssessmentContext> = {}): string => {
  const r = readAssessment(text, { ...context, ...more });
  return r.kind === 'refused' ? r.message : 'read';
};

describe('an assessment in one line', () => {
  it('has its title first and the rest in any order', () => {
    const line = {
      title: 'Reed count',
      points: 12.5,
      category: 'final',
      due: 'day 4 Dec 16:00',
      extraCredit: true,
      counts: true,
      guessed: [],
    };
    const parts = ['12.5', 'fin', 'due 4 Dec 16:00', 'Extra credit'];
    fc.assert(
      fc.property(fc.shuffledSubarray(parts, { minLength: 4 }), (some) => {
        expect(read(['Reed count', ...some].join(', '))).toEqual(line);
        expect(read(['Reed count', ...some].join(' ; '))).toEqual(line);
      }),
    );
    expect(read('A walk, with a map; 12; fin')).toMatchObject({ title: 'A walk, with a map', points: 12 });
    expect(read('Reed count, only shown, 8 points').counts).toBe(false);
  });

  it('says how it is handed in, once, unless a category is called that', () => {
    expect(read('Presentation, 10, in the room, 4 Dec')).toMatchObject({
      points: 10,
      due: 'day 4 Dec',
      handedIn: 'room',
    });
    expect(read('Sketch, files').handedIn).toBe('files');
    expect(read('Sketch, By another tool').handedIn).toBe('tool');
    expect(read('Sketch')).not.toHaveProperty('handedIn');
    expect(refusal('Sketch, files, on paper')).toBe('Its way of handing in stands there twice, the second time as “on paper”.'); // prettier-ignore
    const categories = [...context.categories, { id: 'texts', title: 'Text' }];
    expect(read('Sketch, text', { categories })).toMatchObject({ category: 'texts' });
  });

  it('follows the book’s other assessments in what it does not say', () => {
    expect(read('Check 3')).toMatchObject({
      category: 'checks',
      points: 15,
      guessed: ['points', 'category'],
      due: null,
    });
    expect(read('Reed count')).toMatchObject({ category: 'field', points: 20 });
    expect(read('Reed count', { usual: 'gone' }).category).toBe('field');
    expect(read('Report, final')).toMatchObject({ points: 10, guessed: ['points'] });
    expect(read('Check 3, field')).toMatchObject({ category: 'field', points: 20 });
  });

  it('refuses what it cannot read, and says what it could be', () => {
    expect(refusal(' , 12')).toMatch(/^Begin with its title/);
    expect(refusal('Reed count, ch')).toBe('“ch” may be one of Checks, Charts.');
    expect(refusal('Reed count, soon')).toBe(
      '“soon” is neither points, nor a day such as 27 Nov 17:00, nor a category. There are Field notebooks, Checks, Charts, Final.',
    );
    expect(refusal('Reed count, 12, 13')).toBe('Its number of points stands there twice, the second time as “13”.');
    expect(refusal('Reed count, 0')).toMatch(/only shown/);
    expect(refusal('Reed count, 1.00001')).toMatch(/four decimals/);
    expect(refusal('Reed count, 1.10000')).toBe('read');
    expect(refusal('Reed count, 9999999')).toMatch(/more than an assessment can have/);
    expect(refusal('péat CORE')).toBe('There is a “péat CORE” in this book already.');
    expect(refusal('x'.repeat(121))).toMatch(/at most 120 characters; this has 121/);
    expect(refusal('Reed count', { categories: [] })).toMatch(/no category yet/);
  });

  it('never reads what is not there, whatever is typed', () => {
    fc.assert(
      fc.property(fc.string({ maxLength: 60 }), (text) => {
        const r = readAssessment(text, context);
        if (r.kind === 'refused') {
          expect(r.message).toMatch(/\.$/);
          return;
        }
        expect(r.line.title).not.toBe('');
        expect(r.line.points).toBeGreaterThan(0);
        expect(context.categories.map((c) => c.id)).toContain(r.line.category);
      }),
    );
  });
});

describe('a template', () => {
  const talk = {
    title: 'Talk',
    points: 15,
    category: 'field',
    takesWork: false,
    more: { marks: 'done-or-not', extraCredit: true },
  };
  const context = {
    categories: [
      { id: 'checks', title: 'Checks' },
      { id: 'field', title: 'Field work' },
    ],
    known: [],
    templates: [talk, { ...talk, title: 'Tally walk', category: 'elsewhere', more: { counts: false } }],
    usual: null,
    day: () => null,
  };

  it('gives all that the line does not say', () => {
    expect(readAssessment('Talk on reeds, like talk', context)).toMatchObject({
      kind: 'read',
      line: { title: 'Talk on reeds', points: 15, category: 'field', extraCredit: true, guessed: [], like: talk },
    });
    expect(readAssessment('Second talk, like Talk, 20, checks', context)).toMatchObject({
      line: { points: 20, category: 'checks' },
    });
    // Of another book whose category is not here: only that is guessed.
    expect(readAssessment('Walk, like tally', context)).toMatchObject({
      line: { points: 15, category: 'checks', counts: false, guessed: ['category'] },
    });
  });

  it('that is not there, or could be several, is said', () => {
    expect(readAssessment('Walk, like ta', context)).toMatchObject({ message: '“ta” may be one of Talk, Tally walk.' });
    expect(readAssessment('Walk, like swim', context)).toMatchObject({
      message: expect.stringContaining('no template “swim”') as string,
    });
    expect(readAssessment('Walk, like swim', { ...context, templates: [] })).toMatchObject({
      message: expect.stringContaining('no template yet') as string,
    });
  });
});
