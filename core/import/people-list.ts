import { readTable } from './table';
import { plain } from './match';

/** One student as a list names them; what it does not say is empty. */
export interface ListedPerson {
  line: number;
  family: string;
  given: string;
  number: string;
  mail: string;
  section: string;
}

type Part = 'family' | 'given' | 'name' | 'number' | 'mail' | 'section' | 'nothing';

/** A list as it was read: what each column was taken for, the people, and what could not be read. */
export interface PeopleRead {
  columns: { heading: string; is: Part }[];
  people: ListedPerson[];
  problems: string[];
}

/** Words of headings, each a whole word: somebody called Forester or Mailer is no heading. */
const HEADINGS: [Part, string[]][] = [
  ['mail', ['mail', 'mails', 'email', 'emails']],
  ['section', ['section', 'class', 'set', 'group', 'stream']],
  ['number', ['number', 'no', 'nr', 'id', 'ident', 'identifier', 'matric', 'matriculation']],
  ['family', ['family', 'last', 'surname', 'surnames']],
  ['given', ['given', 'first', 'fore', 'forename', 'forenames']],
  ['name', ['name', 'names', 'student', 'students']],
];

/** What a heading says that its column holds; null: nothing that is known. */
function saidBy(heading: string): Part | null {
  const words = plain(heading).split(/[^\p{L}]+/u);
  return HEADINGS.find(([, known]) => known.some((w) => words.includes(w)))?.[0] ?? null;
}

const isMail = (cell: string): boolean => /^[^\s@]+@[^\s@]+$/.test(cell);
const isNumber = (cell: string): boolean => /\d/.test(cell) && /^[\p{L}\d./-]{1,60}$/u.test(cell);

/** What a column holds, by its heading, or where it has none by most of its cells. */
function partOf(heading: string, cells: string[], taken: ReadonlySet<Part>, sections: readonly string[]): Part {
  if (heading.trim() !== '') return saidBy(heading) ?? 'nothing';
  const filled = cells.filter((c) => c !== '');
  if (filled.length === 0) return 'nothing';
  const most = (is: (c: string) => boolean): boolean =>
    filled.length > 0 && filled.filter(is).length * 2 > filled.length;
  const known = new Set(sections.map(plain));
  if (!taken.has('mail') && most(isMail)) return 'mail';
  if (!taken.has('section') && most((c) => known.has(plain(c)))) return 'section';
  if (!taken.has('number') && most(isNumber)) return 'number';
  if (!taken.has('name') && !taken.has('family') && most((c) => /,|\s/.test(c))) return 'name';
  if (!taken.has('name') && !taken.has('family')) return 'family';
  if (!taken.has('name') && !taken.has('given')) return 'given';
  return taken.has('section') ? 'nothing' : 'section';
}

/** "Farrelly, Con" or "Con Farrelly": the last word is the family name where there is no comma. */
export function splitName(name: string): { family: string; given: string } {
  const comma = name.indexOf(',');
  if (comma >= 0) return { family: name.slice(0, comma).trim(), given: name.slice(comma + 1).trim() };
  const words = name.trim().split(/\s+/);
  return { family: words[words.length - 1] ?? '', given: words.slice(0, -1).join(' ') };
}

/**
 * A typed or pasted name on a line by itself has a comma that is no delimiter. Such a list is read line by line.
 */
const namesOnly = (text: string): boolean => {
  const lines = text.split(/\r?\n/).filter((l) => l.trim() !== '');
  return (
    lines.length > 0 &&
    lines.every((l) => /^[^\t;|,\d@]+(,[^\t;|,\d@]+)?$/.test(l)) &&
    lines.some((l) => /^[^,]+, ./.test(l) || !l.includes(','))
  );
};

/** Reads students typed, pasted from a spreadsheet or from a file with any delimiter, with headings or without. */
export function readPeople(text: string, sections: readonly string[] = []): PeopleRead {
  if (namesOnly(text)) return readNames(text);
  const table = readTable(text);
  // The row of headings is one whose words say what the columns are; otherwise it is a person like the others.
  const filled = table.headings.filter((h) => h.trim() !== '');
  const says = filled.filter((h) => saidBy(h) !== null).length;
  const headed =
    table.headerRow >= 0 && says >= 1 && says * 2 >= filled.length && !filled.some((h) => isMail(h) || /\d/.test(h));
  const rows =
    headed || table.headerRow < 0 ? table.rows : [{ line: table.headerRow + 1, cells: table.headings }, ...table.rows];
  const width = rows.reduce((most, r) => Math.max(most, r.cells.length), headed ? table.headings.length : 0);
  const taken = new Set<Part>();
  const columns = Array.from({ length: width }, (_, i) => {
    const heading = headed ? (table.headings[i] ?? '') : '';
    let is = partOf(
      heading,
      rows.map((r) => r.cells[i] ?? ''),
      taken,
      sections,
    );
    if (is !== 'nothing' && taken.has(is)) is = 'nothing';
    taken.add(is);
    return { heading, is };
  });
  const people = rows.flatMap((r): ListedPerson[] => {
    const cell = (part: Part): string => {
      const at = columns.findIndex((c) => c.is === part);
      return at < 0 ? '' : (r.cells[at] ?? '').trim();
    };
    const named = splitName(cell('name'));
    const person = {
      line: r.line,
      family: cell('family') || named.family,
      given: cell('given') || (cell('family') ? '' : named.given),
      number: cell('number'),
      mail: cell('mail'),
      section: cell('section'),
    };
    return person.family || person.number || person.mail ? [person] : [];
  });
  return { columns, people, problems: table.problems };
}

function readNames(text: string): PeopleRead {
  const people = text
    .split(/\r?\n/)
    .flatMap((l, i): ListedPerson[] =>
      l.trim() === '' ? [] : [{ line: i + 1, ...splitName(l), number: '', mail: '', section: '' }],
    );
  return { columns: [{ heading: '', is: 'name' }], people, problems: [] };
}
