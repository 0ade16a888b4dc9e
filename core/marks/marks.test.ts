import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { readAnnotation, toAnnotation } from './annotation';
import {
  findQuote,
  INKS,
  markFault,
  movedMark,
  quoteOf,
  tidyMark,
  topOf,
  type Box,
  type Point,
  type StrokePoint,
  type WorkMark,
} from './work-mark';

const ID = '01890a5d-ac96-774b-bcce-b302099a8057';
const frame = { id: ID, source: '/api/v1/books/fens/submissions/s/files/f' };
const fraction = fc.double({ min: 0, max: 1, noNaN: true });
const far = fc.double({ min: 0, max: 40, noNaN: true });
const point = fc.tuple(fraction, far);
const words = fc.string({ maxLength: 80, unit: 'grapheme' });
const surface = fc.record({
  on: fc.constantFrom('page' as const, 'sheet' as const, 'block' as const),
  index: fc.nat(2_000),
});
const head = { ink: fc.constantFrom(...INKS), surface, comment: words };
const quote = fc
  .tuple(words, fc.string({ minLength: 1, maxLength: 60, unit: 'grapheme' }), words)
  .map(([a, b, c]) => quoteOf(a + b + c, a.length, a.length + b.length));
const box = fc.tuple(fraction, far, fraction, fraction);
const mark: fc.Arbitrary<WorkMark> = fc
  .oneof(
    fc.record({ ...head, kind: fc.constant('highlight' as const), quote }),
    fc.record({
      ...head,
      kind: fc.constant('highlight' as const),
      boxes: fc.array(box, { minLength: 1, maxLength: 5 }),
    }),
    fc.record({ ...head, kind: fc.constant('strike' as const), wording: words, quote, boxes: fc.array(box, { maxLength: 5 }) }), // prettier-ignore
    fc.record({ ...head, kind: fc.constantFrom('note' as const, 'text' as const), at: point }),
    fc.record({
      ...{ ...head, kind: fc.constant('pen' as const) },
      strokes: fc.array(fc.array(fc.tuple(fraction, far, fraction), { minLength: 1, maxLength: 20 }), { minLength: 1, maxLength: 4 }), // prettier-ignore
    }),
  )
  .map((m) => tidyMark(m as WorkMark));

describe('a mark on the work', () => {
  it('written as an annotation, through JSON, and read again is the same mark', () => {
    fc.assert(
      fc.property(mark, (m) => {
        expect(markFault(m)).toBeNull();
        const written = JSON.parse(JSON.stringify(toAnnotation(m, frame))) as unknown;
        expect(readAnnotation(written)).toEqual({ id: ID, source: frame.source, mark: m });
        expect(tidyMark(m)).toEqual(m);
      }),
    );
  });

  it('is said in the standard’s own words, so that others read it', () => {
    const m = tidyMark({
      ...{
        kind: 'strike',
        ink: 'umber',
        surface: { on: 'page', index: 2 },
        comment: 'How do you know?',
        wording: 'loam',
      },
      ...{ quote: quoteOf('a dark silty clay loam', 2, 6), boxes: [[0.1, 0.2, 0.3, 0.02]] },
    });
    const a = toAnnotation(m, { ...frame, creator: 'R. Aldous', created: '2026-11-24T09:00:00Z' });
    expect(a).toMatchObject({
      ...{ id: `urn:uuid:${ID}`, type: 'Annotation', motivation: 'editing' },
      ...{ creator: { type: 'Person', name: 'R. Aldous' }, created: '2026-11-24T09:00:00Z' },
      body: [
        { type: 'TextualBody', purpose: 'commenting', value: 'How do you know?' },
        { type: 'TextualBody', purpose: 'editing', value: 'loam' },
      ],
      target: {
        source: frame.source,
        selector: [
          {
            ...{ type: 'FragmentSelector', value: 'page=3' },
            refinedBy: [
              { type: 'TextQuoteSelector', exact: 'dark', prefix: 'a ', suffix: ' silty clay loam' },
              { type: 'TextPositionSelector', start: 2, end: 6 },
              { type: 'SvgSelector', value: expect.stringContaining('<rect x="0.1" y="0.2"') as string },
            ],
          },
        ],
      },
    });
  });

  it('of another program is read by what it says: words alone, one selector, no list', () => {
    const foreign = {
      ...{ '@context': 'http://www.w3.org/ns/anno.jsonld', type: 'Annotation', body: 'Say how.' },
      target: { source: 'x', selector: { type: 'TextQuoteSelector', exact: 'silty clay' } },
    };
    expect(readAnnotation(foreign)).toEqual({
      ...{ id: '', source: 'x' },
      mark: {
        ...{ kind: 'highlight', ink: 'plum', surface: { on: 'whole', index: 0 }, comment: 'Say how.' },
        quote: { exact: 'silty clay', prefix: '', suffix: '', start: 0, end: 10 },
      },
    });
    const drawn = (value: string) => readAnnotation({ type: 'Annotation', target: { selector: { type: 'SvgSelector', value } } }); // prettier-ignore
    expect(drawn('<svg viewBox="0 0 1 1"><path d="M 0.1,0.2 L 0.3 0.4"></path></svg>')).toMatchObject({ mark: { kind: 'pen', strokes: [[[0.1, 0.2, 0.5], [0.3, 0.4, 0.5]]] } }); // prettier-ignore
    for (const bad of [
      '<svg><script>x</script></svg>',
      '<svg><path d="M0 0C1 1 2 2 3 3"/></svg>',
      '<svg><text>a</text></svg>',
      'no',
      '<svg></svg>',
      '<svg><rect x="a" y="1" width="" height="1"/></svg>',
    ])
      // prettier-ignore
      expect([bad, typeof drawn(bad)]).toEqual([bad, 'string']);
  });

  it('whatever is brought in is a mark that can be kept, or a sentence', () => {
    const kinds = fc.constantFrom(
      'FragmentSelector',
      'TextQuoteSelector',
      'TextPositionSelector',
      'SvgSelector',
      'Other',
    );
    const selector = fc.dictionary(fc.constantFrom('value', 'exact', 'prefix', 'start', 'end', 'refinedBy', 'lt:pressure'), fc.jsonValue()); // prettier-ignore
    const odd = fc
      .tuple(fc.array(fc.tuple(kinds, selector)), fc.jsonValue(), fc.jsonValue(), fc.jsonValue())
      .map(([s, body, motivation, kind]) => ({
        ...{ type: 'Annotation', body, motivation, 'lt:kind': kind },
        target: { selector: s.map(([type, rest]) => ({ ...rest, type })) },
      }));
    fc.assert(
      fc.property(fc.oneof(odd, fc.jsonValue()), (value) => {
        const read = readAnnotation(value);
        if (typeof read === 'string') expect(read).toMatch(/^[A-Z].*\.$/);
        else expect([markFault(read.mark), tidyMark(read.mark)]).toEqual([null, read.mark]);
      }),
    );
  });

  it('stays on its surface wherever it is moved, in its shape, and words hold theirs', () => {
    const by = fc.double({ min: -3, max: 3, noNaN: true });
    fc.assert(
      fc.property(mark, by, by, (m, dx, dy) => {
        const there = movedMark(m, dx, dy);
        expect(markFault(there)).toBeNull();
        if (m.quote) expect(there).toEqual(m);
        const spread = (x: WorkMark): number[] => {
          const all: (Point | StrokePoint | Box)[] = [...(x.at ? [x.at] : []), ...(x.boxes ?? []), ...(x.strokes ?? []).flat()]; // prettier-ignore
          return all.flatMap((p) => [p[0] - all[0]![0], p[1] - all[0]![1], ...p.slice(2)]);
        };
        spread(there).forEach((n, i) => expect(Math.abs(n - spread(m)[i]!)).toBeLessThan(1e-4));
        expect(topOf(there) ?? 0).toBeGreaterThanOrEqual(0);
      }),
    );
  });

  it.each([
    [{ kind: 'highlight' }, 'over words or over an area'],
    [{ kind: 'note' }, 'has a place'],
    [{ kind: 'pen', strokes: [] }, 'Nothing was drawn'],
    [{ kind: 'pen', strokes: [Array<StrokePoint>(20_001).fill([0, 0, 0])] }, 'more than one mark'],
    [{ kind: 'note', at: [NaN, 0] }, 'nowhere'],
    [{ kind: 'note', at: [0, 0], comment: 'x'.repeat(4_001) }, '4000 characters'],
    [{ kind: 'strike', quote: { exact: '', prefix: '', suffix: '', start: 0, end: 1 } }, 'characters at most'],
    [{ kind: 'strike', quote: { exact: 'a', prefix: '', suffix: '', start: 3, end: 2 } }, 'place in the text'],
    [{ kind: 'note', at: [0, 0], surface: { on: 'page', index: -1 } }, 'no work has'],
  ] as [Partial<WorkMark>, string][])('is refused with a sentence: %j', (part, why) => {
    const whole = { ink: 'plum', surface: { on: 'whole', index: 0 }, comment: '', ...part } as WorkMark;
    expect(markFault(tidyMark(whole))).toContain(why);
  });
});

describe('words that are quoted', () => {
  it('are found at their place, or by what stands beside them where the text has moved', () => {
    const text = 'the clay was grey; the clay was brown; the clay was wet';
    const q = quoteOf(text, text.lastIndexOf('clay'), text.lastIndexOf('clay') + 4);
    expect(findQuote(text, q)).toEqual({ start: q.start, end: q.end });
    const moved = `A preface. ${text}`;
    expect(findQuote(moved, q)).toEqual({ start: q.start + 11, end: q.end + 11 });
    expect(findQuote('sand alone', q)).toBeNull();
  });

  it('are where they were quoted, whatever the text', () => {
    fc.assert(
      fc.property(fc.string({ minLength: 1, maxLength: 200 }), fc.nat(199), fc.nat(50), (text, from, length) => {
        const start = from % text.length;
        const end = Math.min(text.length, start + 1 + length);
        expect(findQuote(text, quoteOf(text, start, end))).toEqual({ start, end });
      }),
    );
  });
});
