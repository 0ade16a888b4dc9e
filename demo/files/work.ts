import { readFileSync } from 'node:fs';
import type { Random } from '../random';
import { docx, odt, xlsx } from './office';
import { reportPdf } from './pdf';
import { photograph, type Turn } from './photograph';
import { wav } from './sound';
import { paragraph, readings, sentence } from './words';

export interface DemoFile {
  name: string;
  bytes: Buffer;
  /** Only so many of its bytes come before the line breaks off for good. */
  breaksOffAt?: number;
}

/** What one student hands in for one assessment. */
export interface DemoWork {
  files: DemoFile[];
  typed: string;
  link: string;
}

interface Of {
  /** As its file is called: letters and dashes. */
  id: string;
  title: string;
  author: string;
  at: string;
}

const kept = (name: string): Buffer => readFileSync(new URL(`./kept/${name}`, import.meta.url));
const TURNS: Turn[] = [1, 6, 8, 3];
const csv = (rows: string[][]): Buffer => Buffer.from(rows.map((r) => r.join(',')).join('\r\n'), 'utf8');
const CODE = (random: Random): string =>
  `# mean moisture of the stations, without the wettest and the driest\nreadings = [${readings(random, 7).slice(1).map((r) => r[3]).join(', ')}]\nkept = sorted(readings)[1:-1]\nprint(round(sum(kept) / len(kept), 1))\n`; // prettier-ignore

/** The kinds of work that come in, each with how it is made. */
const MAKERS: Record<string, (random: Random, of: Of) => Promise<Partial<DemoWork>> | Partial<DemoWork>> = {
  pdf: async (random, of) => ({
    files: [
      { name: `${of.id}.pdf`, bytes: await reportPdf(random, { ...of, pages: 2 + Math.floor(random.next() * 4) }) },
    ],
  }),
  'long-pdf': async (random, of) => ({
    files: [{ name: `${of.id}, all of it.pdf`, bytes: await reportPdf(random, { ...of, pages: 60 }) }],
  }),
  photographs: (random) => ({
    files: TURNS.slice(0, 1 + Math.floor(random.next() * 3)).map((turn, n) => ({
      name: `sheet ${n + 1}.jpg`,
      bytes: photograph(random, turn),
    })),
  }),
  heic: (random) => ({
    files: [{ name: 'IMG_0412.HEIC', bytes: kept(random.chance(0.5) ? 'bank.heic' : 'sheet.heic') }],
  }),
  docx: (random, of) => ({
    files: [
      {
        name: `${of.id}.docx`,
        bytes: docx(of.title, [of.author, paragraph(random), paragraph(random)], readings(random)),
      },
    ],
  }),
  odt: (random, of) => ({ files: [{ name: `${of.id}.odt`, bytes: odt(of.title, [of.author, paragraph(random), paragraph(random)]) }] }), // prettier-ignore
  sheet: (random, of) => ({
    files: [{ name: `${of.id} readings.xlsx`, bytes: xlsx(readings(random, 12)) }],
    typed: paragraph(random, 3),
  }),
  csv: (random) => ({ files: [{ name: 'stations.csv', bytes: csv(readings(random, 20)) }], typed: sentence(random) }),
  code: (random) => ({
    files: [
      { name: 'moisture.py', bytes: Buffer.from(CODE(random)) },
      { name: 'read me.txt', bytes: Buffer.from(`${paragraph(random, 3)}\n`) },
    ],
  }),
  text: (random) => ({ typed: [paragraph(random), paragraph(random), paragraph(random, 3)].join('\n\n') }),
  link: (random, of) => ({ link: `https://maps.example/${of.id}/${Math.floor(random.next() * 1e6)}`, typed: sentence(random) }), // prettier-ignore
  sound: (random) => ({ files: [{ name: 'what I saw.wav', bytes: wav(220 + random.next() * 200, 4) }] }),
  locked: async (random, of) => ({
    files: [{ name: `${of.id}.pdf`, bytes: await reportPdf(random, { ...of, pages: 2, password: 'sluice' }) }],
    typed: 'The password is sluice.',
  }),
  damaged: async (random, of) => {
    const whole = await reportPdf(random, { ...of, pages: 3 });
    return { files: [{ name: `${of.id}.pdf`, bytes: whole.subarray(0, Math.floor(whole.length * 0.6)) }] };
  },
  empty: (random, of) => ({ files: [{ name: `${of.id}.docx`, bytes: Buffer.alloc(0) }], typed: sentence(random) }),
};
export type WorkKind = keyof typeof MAKERS;

/** Of a hundred students so many hand in so; each of the rest comes once in a class that is large enough. */
const USUAL = [
  'pdf',
  'pdf',
  'pdf',
  'photographs',
  'photographs',
  'docx',
  'text',
  'odt',
  'pdf',
  'sheet',
  'photographs',
  'code',
] as const;
const RARE = ['heic', 'long-pdf', 'locked', 'link', 'csv', 'damaged', 'sound', 'empty'] as const;

/** What the `n`th of a class hands in. */
export async function demoWork(random: Random, n: number, of: Of): Promise<DemoWork> {
  const kind = n % 5 === 2 && n < RARE.length * 5 ? RARE[(n - 2) / 5]! : random.pick(USUAL);
  return { files: [], typed: '', link: '', ...(await MAKERS[kind]!(random, of)) };
}
