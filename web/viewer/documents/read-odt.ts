import { MOST, type Block, type ReadDocument, type Run } from './model';
import { readXml } from './read-xml';
import { textOf, unpack } from './unpack';

type Look = Pick<Run, 'bold' | 'italic' | 'underlined' | 'raised' | 'lowered'>;

const PICTURES: Record<string, string> = { png: 'image/png', jpg: 'image/jpeg', jpeg: 'image/jpeg', gif: 'image/gif', webp: 'image/webp' }; // prettier-ignore

/** An OpenDocument text: headings, paragraphs, lists, tables, pictures and notes. */
export function readOdt(bytes: Uint8Array): ReadDocument {
  const pieces = unpack(bytes, (n) => n === 'content.xml' || n === 'styles.xml' || n.startsWith('Pictures/'));
  const content = textOf(pieces, 'content.xml');
  if (content === '') throw new Error('There is no content in it.');
  const looks = new Map([...stylesOf(textOf(pieces, 'styles.xml')), ...stylesOf(content)]);
  const ordered = orderedLists(content + textOf(pieces, 'styles.xml'));
  return new OdtReader(pieces, looks, ordered).read(content);
}

/** How the named styles of characters and paragraphs look, as far as that is shown. */
function stylesOf(xml: string): Map<string, Look> {
  const looks = new Map<string, Look>();
  if (xml === '') return looks;
  let name = '';
  readXml(xml, {
    open(tag, a) {
      if (tag === 'style:style') {
        name = a['style:name'] ?? '';
        // What it is made from is said before it.
        looks.set(name, { ...looks.get(a['style:parent-style-name'] ?? '') });
      }
      if (tag !== 'style:text-properties' || name === '') return;
      const look = looks.get(name)!;
      if (a['fo:font-weight'] === 'bold') look.bold = true;
      if (a['fo:font-style'] === 'italic') look.italic = true;
      if ((a['style:text-underline-style'] ?? 'none') !== 'none') look.underlined = true;
      if (a['style:text-position']?.startsWith('super')) look.raised = true;
      if (a['style:text-position']?.startsWith('sub')) look.lowered = true;
    },
    close(tag) {
      if (tag === 'style:style') name = '';
    },
  });
  return looks;
}

/** Names of the lists that are numbered in their first depth. */
function orderedLists(xml: string): Set<string> {
  const names = new Set<string>();
  for (const [, name, body] of xml.matchAll(
    /<text:list-style[^>]*style:name="([^"]*)"[^>]*>(.*?)<\/text:list-style>/gs,
  ))
    if (body!.trimStart().startsWith('<text:list-level-style-number')) names.add(name!);
  return names;
}

interface List {
  ordered: boolean;
  count: number;
}

class OdtReader {
  private readonly document: ReadDocument = { kind: 'document', blocks: [], notes: [], cut: false };
  /** Where blocks go: the document, or the cell of a table. */
  private readonly into: Block[][] = [this.document.blocks];
  private runs: Run[] | null = null;
  private level = 0;
  private readonly looks: Look[] = [];
  private readonly links: string[] = [];
  private readonly lists: List[] = [];
  private readonly tables: Block[][][][] = [];
  private readonly outer: (Run[] | null)[] = [];
  private fresh = false;
  private note = 0;
  private size = 0;
  private pictures = 0;
  private blocks = 0;
  /** What is no text of the document: who wrote it, changes that were taken out. */
  private aside = 0;

  constructor(
    private readonly pieces: ReadonlyMap<string, Uint8Array<ArrayBuffer>>,
    private readonly styles: ReadonlyMap<string, Look>,
    private readonly ordered: ReadonlySet<string>,
  ) {}

  read(xml: string): ReadDocument {
    readXml(xml, {
      open: (tag, a) => this.open(tag, a),
      close: (tag) => this.close(tag),
      text: (text) => this.say(text.replace(/\s+/g, ' ')),
    });
    return this.document;
  }

  private say(text: string): void {
    if (!this.runs || this.aside > 0 || text === '') return;
    this.size += text.length;
    if (this.size > MOST.characters) {
      this.document.cut = true;
      return;
    }
    const link = this.links.at(-1);
    this.runs.push({ text, ...Object.assign({}, ...this.looks), ...(link ? { link } : {}) });
  }

  private put(block: Block): void {
    if (++this.blocks > MOST.blocks) this.document.cut = true;
    else this.into.at(-1)!.push(block);
  }

  private open(tag: string, a: Readonly<Record<string, string>>): void {
    switch (tag) {
      case 'text:tracked-changes':
      case 'office:annotation':
        this.aside++;
        break;
      case 'text:p':
      case 'text:h':
        this.outer.push(this.runs);
        this.runs = [];
        this.level = tag === 'text:h' ? Math.min(6, Math.max(1, Number(a['text:outline-level']) || 1)) : 0;
        this.looks.push(this.level > 0 ? {} : (this.styles.get(a['text:style-name'] ?? '') ?? {}));
        break;
      case 'text:span':
        this.looks.push(this.styles.get(a['text:style-name'] ?? '') ?? {});
        break;
      case 'text:a': {
        const address = a['xlink:href'] ?? '';
        this.links.push(/^https?:\/\//i.test(address) ? address : '');
        break;
      }
      case 'text:s':
        this.say(' '.repeat(Math.min(100, Number(a['text:c'] ?? 1) || 1)));
        break;
      case 'text:tab':
        this.say('\t');
        break;
      case 'text:line-break':
        this.say('\n');
        break;
      case 'text:list':
        this.lists.push({ ordered: this.ordered.has(a['text:style-name'] ?? '') || (!a['text:style-name'] && this.lists.at(-1)?.ordered === true), count: 0 }); // prettier-ignore
        break;
      case 'text:list-item':
        this.fresh = true;
        if (this.lists.length > 0) this.lists.at(-1)!.count++;
        break;
      case 'text:note':
        this.note = this.document.notes.length + 1;
        this.say(`[${this.note}]`);
        this.document.notes.push([]);
        break;
      case 'text:note-citation':
        this.aside++;
        break;
      case 'table:table':
        this.tables.push([]);
        break;
      case 'table:table-row':
        this.tables.at(-1)?.push([]);
        break;
      case 'table:table-cell': {
        const cell: Block[] = [];
        this.tables.at(-1)?.at(-1)?.push(cell);
        this.into.push(cell);
        break;
      }
      case 'draw:image':
        this.picture(a['xlink:href'] ?? '');
        break;
    }
  }

  private picture(name: string): void {
    const bytes = this.pieces.get(name);
    const type = PICTURES[name.split('.').pop()?.toLowerCase() ?? ''];
    if (!bytes || !type) return;
    this.pictures += bytes.length;
    if (this.pictures > MOST.pictures) this.document.cut = true;
    else this.put({ kind: 'picture', bytes, type, words: 'a picture' });
  }

  private close(tag: string): void {
    switch (tag) {
      case 'text:tracked-changes':
      case 'office:annotation':
      case 'text:note-citation':
        this.aside--;
        break;
      case 'text:p':
      case 'text:h': {
        const runs = this.runs ?? [];
        this.runs = this.outer.pop() ?? null;
        this.looks.pop();
        // A note's paragraph stands within the paragraph that it is noted in.
        if (this.note > 0) this.document.notes[this.note - 1]!.push(...runs);
        else this.put({ kind: 'text', level: this.level, runs, ...this.item() });
        break;
      }
      case 'text:span':
        this.looks.pop();
        break;
      case 'text:a':
        this.links.pop();
        break;
      case 'text:list':
        this.lists.pop();
        break;
      case 'text:note':
        this.note = 0;
        break;
      case 'table:table-cell':
        this.into.pop();
        break;
      case 'table:table': {
        const rows = this.tables.pop() ?? [];
        if (rows.length > 0) this.put({ kind: 'table', rows });
        break;
      }
    }
  }

  private item(): { item?: { depth: number; marker: string } } {
    const list = this.lists.at(-1);
    if (!list) return {};
    const marker = !this.fresh ? '' : list.ordered ? `${list.count}.` : '–';
    this.fresh = false;
    return { item: { depth: this.lists.length, marker } };
  }
}
