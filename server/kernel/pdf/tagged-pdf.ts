import PDFDocument from 'pdfkit';
import { fontRuns, type Face } from './faces';

/** A stretch of text in one face. */
export interface Words {
  text: string;
  face?: Face;
  /** Where it leads. */
  href?: string;
  quiet?: boolean;
}

export interface TableRow {
  head: Words[];
  /** Below the head, smaller. */
  detail?: string;
  figure: string;
  strong?: boolean;
}

type Element = PDFKit.PDFStructureElement;

const MARGIN = { left: 64, right: 64, top: 60, bottom: 64 };
const INK = '#14323a';
const QUIET = '#4d5f66';
const RULE = '#c9d4d4';
/** Points of a line of text, and between paragraphs. */
const SIZE = 10.5;
const LEADING = 3;
/** How far below its top a line's letters stand, in its sizes. */
const BASELINE = 0.95;
const FIGURE_WIDTH = 110;

/**
 * A PDF that can be read aloud: every piece of it is an element of a structure, with language and title (ISO 32000-1,
 * 14.8). Made from top to bottom.
 */
export class TaggedPdf {
  private readonly pdf: PDFKit.PDFDocument;
  private readonly pieces: Buffer[] = [];
  private readonly ended: Promise<Buffer>;
  private readonly root: Element;
  private into: Element;
  private readonly fonts = new Set<string>();

  constructor(of: { title: string; author: string; at: string; foot: string }) {
    const at = new Date(of.at);
    this.pdf = new PDFDocument({
      ...{ size: 'A4', margins: MARGIN, pdfVersion: '1.7', tagged: true, lang: 'en', displayTitle: true },
      info: { Title: of.title, Author: of.author, CreationDate: at, ModDate: at },
      bufferPages: true,
    });
    this.pdf.on('data', (piece: Buffer) => this.pieces.push(piece));
    this.ended = new Promise((done, failed) => {
      this.pdf.on('end', () => done(Buffer.concat(this.pieces)));
      this.pdf.on('error', failed);
    });
    this.foot = of.foot;
    this.root = this.pdf.struct('Document');
    this.pdf.addStructure(this.root);
    this.into = this.root;
  }

  private readonly foot: string;
  private get width(): number {
    return this.pdf.page.width - MARGIN.left - MARGIN.right;
  }

  async heading(level: 1 | 2 | 3, text: string): Promise<void> {
    const size = [20, 14, 11.5][level - 1]!;
    this.gap(level === 1 ? 0 : level === 2 ? 14 : 6);
    this.room(size * 3);
    const set = await this.set([{ text, face: level === 3 ? 'bold' : 'head' }], { size });
    this.into.add(this.pdf.struct(`H${level}`, {}, set));
    this.gap(level === 1 ? 4 : 2);
  }

  async paragraph(words: Words[], options: { indent?: number; size?: number } = {}): Promise<void> {
    const set = await this.set(words, { size: options.size ?? SIZE, indent: options.indent ?? 0 });
    this.into.add(this.pdf.struct('P', {}, set));
    this.gap(4);
  }

  /** Rows of a head with what it says on the left, and a figure on the right. */
  async table(title: string, rows: TableRow[]): Promise<void> {
    const table = this.pdf.struct('Table', { title });
    this.into.add(table);
    for (const row of rows) await this.row(table, row);
    table.end();
    this.gap(6);
  }

  private async row(table: Element, { head, detail, figure, strong = false }: TableRow): Promise<void> {
    const narrow = this.width - FIGURE_WIDTH - 12;
    this.room(SIZE * 3);
    this.pdf
      .save()
      .lineWidth(strong ? 1 : 0.5)
      .strokeColor(strong ? INK : RULE);
    this.artifact(() =>
      this.pdf
        .moveTo(MARGIN.left, this.pdf.y)
        .lineTo(MARGIN.left + this.width, this.pdf.y)
        .stroke(),
    );
    this.pdf.restore();
    this.gap(4);
    const page = this.pdf.page;
    const top = this.pdf.y;
    const tr = this.pdf.struct('TR');
    table.add(tr);
    const words = await this.set(
      head.map((w) => ({ face: 'bold', ...w })),
      { width: narrow },
    );
    const said = detail ? await this.set([{ text: detail, quiet: true }], { width: narrow, size: SIZE - 1 }) : null;
    tr.add(this.pdf.struct('TH', {}, said ? [words, said] : words));
    const bottom = this.pdf.y;
    // Where the head went on to another page, its figure stands there.
    const set = await this.set([{ text: figure, face: strong ? 'sum' : 'figure' }], {
      ...{ width: FIGURE_WIDTH, x: MARGIN.left + this.width - FIGURE_WIDTH, align: 'right' },
      y: this.pdf.page === page ? top : MARGIN.top,
    });
    tr.add(this.pdf.struct('TD', {}, set));
    tr.end();
    this.pdf.y = Math.max(bottom, this.pdf.y);
    this.gap(3);
  }

  /** A list; the items are made within. */
  async list(
    make: (item: (mark: string, words: Words[]) => Promise<void>) => Promise<void>,
    indent = 0,
  ): Promise<void> {
    const list = this.pdf.struct('L');
    this.into.add(list);
    await make(async (mark, words) => {
      const li = this.pdf.struct('LI');
      list.add(li);
      const y = this.pdf.y;
      const label = await this.set([{ text: mark }], { width: 18, x: MARGIN.left + indent, y });
      li.add(this.pdf.struct('Lbl', {}, label));
      this.pdf.y = y;
      li.add(this.pdf.struct('LBody', {}, await this.set(words, { indent: indent + 20 })));
      li.end();
      this.gap(2);
    });
    list.end();
    this.gap(2);
  }

  /** What is made within belongs together. */
  async section(title: string, make: () => Promise<void>): Promise<void> {
    const before = this.into;
    const section = this.pdf.struct('Sect', { title });
    before.add(section);
    this.into = section;
    await make();
    section.end();
    this.into = before;
  }

  async end(): Promise<Buffer> {
    this.root.end();
    const pages = this.pdf.bufferedPageRange().count;
    for (let page = 0; page < pages; page++) {
      this.pdf.switchToPage(page);
      const set = await this.set(
        [{ text: `${this.foot}${pages > 1 ? ` · ${page + 1} of ${pages}` : ''}`, quiet: true }],
        {
          ...{ size: 8, y: this.pdf.page.height - 46 },
        },
      );
      // Below the text there is room that text does not flow into.
      this.pdf.page.margins.bottom = 0;
      this.artifact(set);
      this.pdf.page.margins.bottom = MARGIN.bottom;
    }
    this.pdf.end();
    return this.ended;
  }

  private artifact(draw: () => void): void {
    this.pdf.markContent('Artifact', { type: 'Layout' });
    draw();
    this.pdf.endMarkedContent();
  }

  private gap(points: number): void {
    this.pdf.y += points;
  }

  /** So much is wanted on this page; else the next one begins. */
  private room(points: number): void {
    if (this.pdf.y + points > this.pdf.page.height - MARGIN.bottom) this.pdf.addPage();
  }

  /** Text in its fonts, all of it on the same base lines; gives what draws it. */
  private async set(
    words: Words[],
    of: { size?: number; width?: number; x?: number; y?: number; indent?: number; align?: 'right' } = {},
  ): Promise<() => void> {
    const { size = SIZE, indent = 0, align = 'left' } = of;
    const runs: { text: string; font: string; href: string | null; quiet: boolean }[] = [];
    for (const { text, face = 'text', href, quiet = false } of words)
      for (const run of await fontRuns(text, face)) {
        if (!this.fonts.has(run.font.name)) this.pdf.registerFont(run.font.name, run.font.bytes as never);
        this.fonts.add(run.font.name);
        runs.push({ text: run.text, font: run.font.name, href: href ?? null, quiet });
      }
    return () => {
      if (runs.length === 0) return;
      const x = of.x ?? MARGIN.left + indent;
      const options = { baseline: 'alphabetic', lineGap: LEADING, align } as const;
      this.pdf.fontSize(size);
      runs.forEach((run, i) => {
        this.pdf.font(run.font).fillColor(run.quiet ? QUIET : INK);
        const more = { ...options, continued: i < runs.length - 1, link: run.href, underline: run.href !== null };
        if (i > 0) this.pdf.text(run.text, more);
        else
          this.pdf.text(run.text, x, (of.y ?? this.pdf.y) + size * BASELINE, {
            ...more,
            width: of.width ?? this.width - indent,
          });
      });
      this.pdf.y -= size * BASELINE;
      this.pdf.x = MARGIN.left;
    };
  }
}
