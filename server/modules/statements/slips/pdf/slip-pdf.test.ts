import { getDocument } from 'pdfjs-dist/legacy/build/pdf.mjs';
import { describe, expect, it } from 'vitest';
import type { Slip } from '@contract/slips';
import type { StudentBook } from '@contract/statements';
import { demoStudents } from '../../../../../demo/data/people';
import { fontRuns, FACES } from '../../../../kernel/pdf/faces';
import { slipPdf, type SlipPdfOf } from './slip-pdf';

interface Leaf {
  role?: string;
  type?: string;
  children?: Leaf[];
}
interface Read {
  title: string;
  language: string;
  marked: boolean;
  text: string;
  roles: string[];
  pages: number;
  /** Pieces of the pages that belong to the structure, and those that a structure names. */
  pieces: { marked: number; named: number };
}

const roles = (node: Leaf | null): string[] =>
  node ? [...(node.role ? [node.role] : []), ...(node.children ?? []).flatMap(roles)] : [];
const contents = (node: Leaf | null): number =>
  node ? (node.type === 'content' ? 1 : 0) + (node.children ?? []).reduce((n, c) => n + contents(c), 0) : 0;

async function read(bytes: Buffer): Promise<Read> {
  const pdf = await getDocument({ data: new Uint8Array(bytes), useSystemFonts: false, verbosity: 0 }).promise;
  const info = (await pdf.getMetadata()).info as Record<string, string>;
  const out: Read = {
    ...{ title: info['Title']!, language: info['Language'] ?? '', text: '', roles: [], pages: pdf.numPages },
    marked: (await pdf.getMarkInfo())?.Marked === true,
    pieces: { marked: 0, named: 0 },
  };
  for (let n = 1; n <= pdf.numPages; n++) {
    const page = await pdf.getPage(n);
    const { items } = await page.getTextContent({ includeMarkedContent: true });
    for (const item of items) {
      if ('str' in item) out.text += item.str + (item.hasEOL ? '\n' : '');
      else if (item.type === 'beginMarkedContentProps' && (item as { tag?: string }).tag !== 'Artifact')
        out.pieces.marked++;
    }
    const tree = (await page.getStructTree()) as Leaf | null;
    out.roles.push(...roles(tree));
    out.pieces.named += contents(tree);
  }
  await pdf.destroy();
  return out;
}

const BOOK = {
  ...{ book: 'fens', title: 'Wetland Survey Methods', timeZone: 'Europe/Dublin', asOf: '2026-11-24T09:00:00Z' },
  ...{ standing: null, work: [] },
} as unknown as StudentBook;
const WORK: StudentBook['work'][number] = {
  ...{ id: 'soil-pit', title: 'Soil pit', points: 20, due: null, state: 'scored', feedback: true, fresh: false },
  score: {
    ...{ earned: '16', dropped: false, releasedAt: '2026-11-24T08:00:00Z', releasedBy: 'R. Aldous' },
    receivedAt: '2026-11-13T20:04:00Z',
    lines: [
      { label: 'Marked', detail: 'second attempt', figure: '18', tone: 'plain' },
      { label: 'Late', detail: '1 started day × 10 %', figure: '− 2', tone: 'cost' },
      { label: 'Counts as', detail: 'of 20', figure: '16', tone: 'sum' },
    ],
    sum: {
      ...{ attempt: 2, attempts: 2, marked: '18', counts: '16' },
      terms: [{ what: 'late', sign: '-', points: '2', units: 1, unit: 'day' }],
    },
  },
};
const SLIP = {
  ...{ book: 'fens', assessment: 'soil-pit', title: 'Soil pit', timeZone: 'Europe/Dublin', fresh: false },
  ...{ releasedAt: '2026-11-24T08:00:00Z', releasedBy: 'R. Aldous', comment: 'Well dug, all of you.' },
  rubric: {
    rubric: {
      by: 'points',
      criteria: [
        {
          ...{ id: 'drawing', title: 'Profile drawing', stands: 'counts' },
          levels: [
            { id: 'l1', points: 2, words: 'some horizons' },
            { id: 'l2', points: 8, words: 'all horizons, named' },
          ],
        },
      ],
    },
    works: [{ work: 'hand-1', attempt: 1, by: ['R. Aldous'], marks: [{ criterion: 'drawing', mark: { points: 8 } }] }],
  },
  feedback: {
    everybody: [],
    works: [
      {
        ...{ work: 'hand-1', attempt: 1, receivedAt: null, by: ['R. Aldous'], marks: [], files: [] },
        note: {
          type: 'doc',
          content: [
            { type: 'paragraph', content: [{ type: 'text', text: 'Clear ', marks: [{ type: 'bold' }] }, { type: 'text', text: 'drawing.' }] }, // prettier-ignore
            { type: 'bulletList', content: [{ type: 'listItem', content: [{ type: 'paragraph', content: [{ type: 'text', text: 'Name the horizons.' }] }] }] }, // prettier-ignore
          ],
        },
      },
    ],
  },
} as unknown as Slip;
const of = (student: SlipPdfOf['student'], more: Partial<SlipPdfOf> = {}): SlipPdfOf => ({
  ...{ school: 'Brackenmoor College', book: BOOK, work: WORK, slip: SLIP, student },
  ...more,
});
const ADA = { family: 'Fjeldstad', given: 'Ada', number: 'BC24101' };

describe('a slip as a PDF', () => {
  it('has its language, a title and a structure that names every piece of it', async () => {
    const pdf = await read(await slipPdf(of(ADA)));
    expect(pdf).toMatchObject({ title: 'Soil pit – Ada Fjeldstad', language: 'en', marked: true, pages: 1 });
    expect(pdf.roles).toEqual(expect.arrayContaining(['Document', 'H1', 'H2', 'P', 'Table', 'TR', 'TH', 'TD', 'Sect', 'L', 'LI', 'Lbl', 'LBody'])); // prettier-ignore
    expect(pdf.pieces.named).toBe(pdf.pieces.marked);
    expect(pdf.pieces.marked).toBeGreaterThan(20);
  });

  it('says what its student reads, whole', async () => {
    const { text } = await read(await slipPdf(of(ADA)));
    for (const words of [
      ...['Soil pit', 'second attempt, handed in 13 Nov 20:04', 'released 24 Nov 08:00 by R. Aldous'],
      ...['18.0 marked − 2.0 1 started day = 16.0 of 20', '1 started day × 10 %', 'Well dug, all of you.'],
      ...['8: all horizons, named – given', '2: some horizons', 'Clear drawing.', 'Name the horizons.'],
      ...['Together 8 of 8.', 'Marked by R. Aldous.'],
    ])
      expect(text).toContain(words);
  });

  it('says where the score is not what the rubric comes to', async () => {
    const rubric = { ...SLIP.rubric!, works: SLIP.rubric!.works.map((w) => ({ ...w, attempt: 2 })) };
    const { text } = await read(await slipPdf(of(ADA, { slip: { ...SLIP, rubric } })));
    expect(text.replace(/\s+/g, ' ')).toContain(
      'Together 8 of 8. The score is not this sum: 18 was given in its place.',
    );
  });

  it('sets every letter of every name of the demo, and of other alphabets, as it is', async () => {
    const names = [...new Set(demoStudents(400).flatMap((s) => [s.family, s.given]))];
    const others = ['Жанна', 'Ελένη', 'Nguyễn Thị', 'שירה', 'محمد', '王小明', '김민준', 'Ḩāfiz', 'Σ≥½→'];
    for (const face of FACES)
      for (const name of [...names, ...others]) {
        const runs = await fontRuns(name, face);
        expect(runs.map((r) => r.text).join('')).toBe(name.normalize('NFC'));
        for (const run of runs)
          for (const letter of run.text)
            expect(run.font.has(letter.codePointAt(0)!), `${letter} of ${name}`).toBe(true);
      }
    // Read back from the page, by what the fonts in it say of their glyphs.
    const student = { family: `${names.join(' ')} ${others.slice(0, 3).join(' ')} 王小明`, given: '', number: '' };
    const { text } = await read(await slipPdf(of(student)));
    const squeezed = text.replace(/\s/g, '');
    for (const name of [...names, ...others.slice(0, 3), '王小明'])
      expect(squeezed).toContain(name.normalize('NFC').replace(/\s/g, ''));
  });

  it('goes on over pages, each piece in the structure, and says what no font has', async () => {
    const content = Array.from({ length: 160 }, (_, i) => ({
      ...{ type: 'paragraph', content: [{ type: 'text', text: `Remark ${i + 1}: the horizon is wet. 🦆` }] },
    }));
    const slip = structuredClone(SLIP);
    slip.feedback!.works[0]!.note = { type: 'doc', content } as never;
    const pdf = await read(await slipPdf(of(ADA, { slip })));
    expect(pdf.pages).toBeGreaterThan(2);
    expect(pdf.text).toContain('Remark 160: the horizon is wet. \ufffd');
    expect(pdf.text).toContain(`${pdf.pages} of ${pdf.pages}`);
    expect(pdf.pieces.named).toBe(pdf.pieces.marked);
  });

  it('is made of as little as came back', async () => {
    const bare: Slip = { ...SLIP, rubric: null, feedback: null, comment: '' };
    const excused = { ...WORK, state: 'excused', score: { ...WORK.score!, earned: null, sum: null, lines: [] } };
    expect((await read(await slipPdf(of(ADA, { slip: bare, work: excused })))).text).toContain('excused');
    const feedbackAlone = { ...WORK, score: null };
    const { text } = await read(await slipPdf(of(ADA, { work: feedbackAlone })));
    expect(text).toContain('Clear drawing.');
    expect(text).not.toContain('marked −');
  });
});
