import { strToU8, zipSync } from 'fflate';
import { fromMarkup } from './from-markup';
import type { Block, ReadDocument } from './model';
import { readOdt } from './read-odt';
import { readOds, readXlsx } from './read-sheets';
import { HostileArchive, unpack } from './unpack';

const packed = (files: Record<string, string | Uint8Array>): Uint8Array =>
  zipSync(Object.fromEntries(Object.entries(files).map(([n, f]) => [n, typeof f === 'string' ? strToU8(f) : f])));
const NAMES = ['office', 'text', 'table', 'style', 'fo', 'draw', 'xlink'].map((n) => `xmlns:${n}="urn:${n}"`).join(' ');
const odt = (body: string, styles = '', more: Record<string, Uint8Array> = {}): Uint8Array =>
  packed({
    'content.xml': `<office:document-content ${NAMES}><office:automatic-styles>${styles}</office:automatic-styles><office:body>${body}</office:body></office:document-content>`,
    ...more,
  });
/** "#1 Pits", "- a", "**b**" … as one reads it. */
const said = (blocks: readonly Block[]): string[] =>
  blocks.map((b) =>
    b.kind === 'picture'
      ? `picture ${b.type} ${b.bytes.length}`
      : b.kind === 'table'
        ? `table ${b.rows.map((r) => r.map((c) => said(c).join('/')).join('|')).join(' ')}`
        : [
            ...(b.level > 0 ? [`#${b.level}`] : []),
            ...(b.item ? [`${b.item.depth}${b.item.marker}`] : []),
            b.runs
              .map((r) => {
                const text = r.bold ? `**${r.text}**` : r.italic ? `_${r.text}_` : r.text;
                return r.link ? `[${text}](${r.link})` : text;
              })
              .join(''),
          ].join(' '),
  );
const words = (d: ReadDocument): string[] => said(d.blocks);

describe('an OpenDocument text', () => {
  it('is read in its headings, paragraphs, lists, tables, pictures and notes', () => {
    const styles =
      '<style:style style:name="B"><style:text-properties fo:font-weight="bold"/></style:style>' +
      '<style:style style:name="BI" style:parent-style-name="B"><style:text-properties fo:font-style="italic"/></style:style>' +
      '<text:list-style style:name="N"><text:list-level-style-number text:level="1"/></text:list-style>';
    const document = readOdt(
      odt(
        `<text:h text:outline-level="2">Pits</text:h>
         <text:p>Dark <text:span text:style-name="B">brown</text:span>,<text:s text:c="2"/>wet<text:line-break/>at <text:a xlink:href="https://fens.example/96">96</text:a><text:a xlink:href="javascript:x">!</text:a><text:note><text:note-citation>1</text:note-citation><text:note-body><text:p>by tape</text:p></text:note-body></text:note>.</text:p>
         <text:list text:style-name="N"><text:list-item><text:p>one</text:p></text:list-item><text:list-item><text:p>two</text:p><text:list><text:list-item><text:p>deeper</text:p></text:list-item></text:list></text:list-item></text:list>
         <table:table><table:table-row><table:table-cell><text:p>a</text:p></table:table-cell><table:table-cell><text:p>b</text:p><text:p>c</text:p></table:table-cell></table:table-row></table:table>
         <text:p><draw:frame><draw:image xlink:href="Pictures/p.png"/></draw:frame></text:p>
         <office:annotation><text:p>by a colleague</text:p></office:annotation>`,
        styles,
        { 'Pictures/p.png': Uint8Array.of(1, 2, 3), 'Pictures/other.png': Uint8Array.of(9) },
      ),
    );
    expect(words(document)).toEqual([
      '#2 Pits',
      'Dark **brown**,  wet\nat [96](https://fens.example/96)![1].',
      '11. one',
      '12. two',
      '21. deeper',
      'table a|b/c',
      'picture image/png 3',
      '',
      '',
    ]);
    expect(document.notes.map((n) => n.map((r) => r.text).join(''))).toEqual(['by tape']);
    expect(document.cut).toBe(false);
  });

  it('that is damaged, or declares what grows, is refused', () => {
    expect(() => readOdt(packed({ 'other.xml': 'x' }))).toThrow();
    expect(() => readOdt(odt('<text:p>half'))).toThrow();
    expect(() => readOdt(Uint8Array.of(1, 2, 3))).toThrow();
    const laughs = `<!DOCTYPE d [<!ENTITY a "ha">]><office:document-content ${NAMES}><text:p>&a;</text:p></office:document-content>`;
    expect(() => readOdt(packed({ 'content.xml': laughs }))).toThrow();
  });
});

describe('a spreadsheet', () => {
  it('as OpenDocument is read as its cells show themselves, repeated ones too, and an endless empty rest not', () => {
    const { sheets } = readOds(
      odt(
        `<table:table table:name="Readings"><table:table-row><table:table-cell><text:p>Station</text:p></table:table-cell><table:table-cell table:number-columns-repeated="2"><text:p>7</text:p></table:table-cell></table:table-row>
         <table:table-row table:number-rows-repeated="1048000"><table:table-cell table:number-columns-repeated="16384"/></table:table-row>
         <table:table-row><table:table-cell><text:p>far</text:p></table:table-cell></table:table-row></table:table>`,
      ),
    );
    expect(sheets).toEqual([{ name: 'Readings', rows: [['Station', '7', '7']], cut: true }]);
  });

  it('as Office Open XML is read with its texts, figures, days and truth, in their places', () => {
    const bytes = packed({
      'xl/workbook.xml':
        '<workbook xmlns:r="urn:r"><sheets><sheet name="Pits" sheetId="1" r:id="rId7"/></sheets></workbook>',
      'xl/_rels/workbook.xml.rels':
        '<Relationships><Relationship Id="rId7" Target="/xl/worksheets/sheet1.xml"/></Relationships>',
      'xl/sharedStrings.xml':
        '<sst><si><r><t>Low </t></r><r><t>Carr</t></r><rPh sb="0" eb="1"><t>x</t></rPh></si></sst>',
      'xl/styles.xml':
        '<styleSheet><numFmts><numFmt numFmtId="170" formatCode="dd&quot;.&quot;mm"/></numFmts><cellXfs><xf numFmtId="0"/><xf numFmtId="14"/><xf numFmtId="170"/></cellXfs></styleSheet>',
      'xl/worksheets/sheet1.xml':
        '<worksheet><sheetData><row r="2"><c r="B2" t="s"><v>0</v></c><c r="C2"><v>0.30000000000000004</v></c><c r="D2" s="1"><v>46350</v></c><c s="2"><f>x</f><v>46350.75</v></c><c t="b"><v>1</v></c><c t="inlineStr"><is><t>in</t></is></c></row></sheetData></worksheet>',
    });
    expect(readXlsx(bytes).sheets).toEqual([
      {
        name: 'Pits',
        rows: [[], ['', 'Low Carr', '0.3', '2026-11-24', '2026-11-24 18:00', 'true', 'in']],
        cut: false,
      },
    ]);
    expect(() => readXlsx(packed({ 'xl/workbook.xml': '<workbook/>' }))).toThrow();
  });
});

describe('markup of a document', () => {
  it('gives words, headings, lists, tables, pictures and notes, and nothing that is programmed', () => {
    const document = fromMarkup(
      `<h1>Pit</h1><p>Dark <strong>brown</strong> <a href="https://fens.example">map</a><a href="javascript:alert(1)">no</a><sup><a href="#n">[1]</a></sup></p>
       <ul><li>one<ol><li>deeper</li></ol></li></ul><table><tr><td><p>a</p></td><td>b</td></tr></table>
       <p><img src="data:image/png;base64,AQID" alt="the face"/><img src="https://evil.example/x.png"/></p>
       <script>alert(1)</script><p onclick="x()"><img src=x onerror="alert(1)">after</p>
       <ol><li id="note-1"><p>by tape <a href="#r">↑</a></p></li></ol>`,
    );
    expect(words(document)).toEqual([
      '#1 Pit',
      'Dark **brown** [map](https://fens.example)no[1]',
      '1– one',
      '21. deeper',
      'table a|b',
      'picture image/png 3',
      'after',
    ]);
    expect(
      document.notes.map((n) =>
        n
          .map((r) => r.text)
          .join('')
          .trim(),
      ),
    ).toEqual(['by tape']);
  });
});

describe('an archive', () => {
  it('that would be too large unpacked, or is in too many pieces, is refused before it is unpacked', () => {
    const zeros = new Uint8Array(40_000_000);
    expect(() => unpack(zipSync({ a: zeros }), () => true)).toThrow(HostileArchive);
    expect(unpack(zipSync({ a: zeros, b: Uint8Array.of(1) }), (n) => n === 'b').get('b')).toEqual(Uint8Array.of(1));
    const many = Object.fromEntries(Array.from({ length: 5_100 }, (_, i) => [`f${i}`, new Uint8Array(0)]));
    expect(() => unpack(zipSync(many), () => false)).toThrow(HostileArchive);
  });
});
