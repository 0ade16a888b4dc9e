import { readFile } from 'node:fs/promises';
import { createRequire } from 'node:module';
import { promisify } from 'node:util';
import { inflate } from 'node:zlib';
import * as fontkit from 'fontkit';

/** How text looks: our own faces, static cuts of them. */
export const FACES = ['text', 'bold', 'italic', 'head', 'figure', 'sum'] as const;
export type Face = (typeof FACES)[number];

const HYPERLEGIBLE = '@fontsource/atkinson-hyperlegible-next/files/atkinson-hyperlegible-next';
const MONO = '@fontsource/atkinson-hyperlegible-mono/files/atkinson-hyperlegible-mono';
const BESLEY = '@fontsource/besley/files/besley';
const OWN: Record<Face, { family: string; cut: string }> = {
  text: { family: HYPERLEGIBLE, cut: '400-normal' },
  bold: { family: HYPERLEGIBLE, cut: '700-normal' },
  italic: { family: HYPERLEGIBLE, cut: '400-italic' },
  head: { family: BESLEY, cut: '600-normal' },
  figure: { family: MONO, cut: '500-normal' },
  sum: { family: MONO, cut: '700-normal' },
};
/** Where our faces lack a letter: other alphabets, then all that Unicode's first plane has. */
const WIDE = 'dejavu-fonts-ttf/ttf/DejaVuSans.ttf';
const WIDE_BOLD = 'dejavu-fonts-ttf/ttf/DejaVuSans-Bold.ttf';
const WIDEST = '@fontsource/unifont/files/unifont-latin-400-normal.woff';

/** A font file as PDFs take it, and which letters it has. */
export interface LoadedFont {
  name: string;
  bytes: Buffer;
  has(codePoint: number): boolean;
}

const { resolve } = createRequire(import.meta.url);
const inflated = promisify(inflate);
const loaded = new Map<string, Promise<LoadedFont>>();

function load(file: string): Promise<LoadedFont> {
  let font = loaded.get(file);
  if (!font) {
    font = (async () => {
      const kept = await readFile(resolve(file));
      const bytes = file.endsWith('.woff') ? await unpacked(kept) : kept;
      const opened = fontkit.create(bytes);
      if (!('hasGlyphForCodePoint' in opened)) throw new Error(`${file} is no single font`);
      return { name: file, bytes, has: (codePoint: number) => opened.hasGlyphForCodePoint(codePoint) };
    })();
    loaded.set(file, font);
    // A file that could not be read is tried anew; whoever waits for it hears why.
    font.catch(() => loaded.delete(file));
  }
  return font;
}

/** A WOFF as the font that it packs (W3C, WOFF 1.0): read once, where its reader would unpack a table at every look. */
async function unpacked(woff: Buffer): Promise<Buffer> {
  const count = woff.readUInt16BE(12);
  const head = Buffer.alloc(12 + 16 * count);
  woff.copy(head, 0, 4, 8);
  head.writeUInt16BE(count, 4);
  const parts: Buffer[] = [head];
  let at = head.length;
  for (let i = 0; i < count; i++) {
    const entry = 44 + 20 * i;
    const [from, packed, bytes] = [4, 8, 12].map((o) => woff.readUInt32BE(entry + o)) as [number, number, number];
    const raw = woff.subarray(from, from + packed);
    const table = packed < bytes ? await inflated(raw) : raw;
    const to = 12 + 16 * i;
    woff.copy(head, to, entry, entry + 4);
    woff.copy(head, to + 4, entry + 16, entry + 20);
    head.writeUInt32BE(at, to + 8);
    head.writeUInt32BE(bytes, to + 12);
    const gap = (4 - (bytes % 4)) % 4;
    parts.push(table, Buffer.alloc(gap));
    at += bytes + gap;
  }
  return Buffer.concat(parts);
}

/** A stretch of text that one font can set. */
export interface FontRun {
  text: string;
  font: LoadedFont;
}

/** What takes no room and has no glyph: joiners, variation selectors, directions, what no text has. */
const UNSEEN = /[\u0000-\u0008\u000b-\u001f\u007f-\u009f\u200b-\u200f\u202a-\u202e\u2060-\u2069\ufe00-\ufe0f\ufeff]/gu;
/** Stands for what no font here has. */
const UNKNOWN = '\ufffd';

/** Text in runs, each with the first font of its face that has its letters. */
export async function fontRuns(text: string, face: Face): Promise<FontRun[]> {
  const { family, cut } = OWN[face];
  const chain = [
    `${family}-latin-${cut}.woff`,
    `${family}-latin-ext-${cut}.woff`,
    face === 'bold' || face === 'head' || face === 'sum' ? WIDE_BOLD : WIDE,
    WIDEST,
  ];
  const runs: FontRun[] = [];
  for (const letter of text.normalize('NFC').replace(UNSEEN, '')) {
    const run = await runOf(letter, chain, runs.at(-1)?.font);
    const last = runs.at(-1);
    if (last?.font === run.font) last.text += run.text;
    else runs.push(run);
  }
  return runs;
}

async function runOf(letter: string, chain: readonly string[], before: LoadedFont | undefined): Promise<FontRun> {
  const codePoint = letter.codePointAt(0)!;
  // Spaces and full stops among other letters do not change the font.
  if (before && /[\s.,]/.test(letter) && before.has(codePoint)) return { text: letter, font: before };
  for (const file of chain) {
    const font = await load(file);
    if (font.has(codePoint) || letter === '\n') return { text: letter, font };
  }
  return { text: UNKNOWN, font: await load(WIDE) };
}
