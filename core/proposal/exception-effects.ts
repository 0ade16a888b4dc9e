import { contentOf, isEmpty } from '../book/change';
import type { BookDocument } from '../book/document';
import { withoutException, type ExceptionKind } from '../book/exceptions';
import { putEntry } from '../calculation/cells/cells';
import { compileBook, type CompiledBook } from '../calculation/compiled/compile';
import { workOutStudent } from '../calculation/final';
import { entriesOf, entryAt } from '../calculation/cells/entries-by-item';
import { studentResult } from '../calculation/result';

/** One exception of one student; `item` null: it holds for the student in the whole book. */
export interface HeldException {
  student: string;
  item: string | null;
  kind: ExceptionKind;
}

/** A standing as it is shown: rounded percent and letter, null where there is none. */
export interface ShownStanding {
  percent: string | null;
  letter: string | null;
}

/** What the student's standing would be without the exception, everything else as it is. The book is left as it was. */
export function standingWithout(compiled: CompiledBook, held: HeldException): ShownStanding {
  const s = compiled.studentIndex.get(held.student);
  if (s === undefined) return { percent: null, letter: null };
  if (held.kind === 'extra-time' || held.kind === 'override') return alone(compiled, s, held.kind);
  const node = held.item === null ? undefined : compiled.nodes.get(held.item);
  if (node?.type !== 'item') return shown(compiled, s);
  const entry = entryAt(compiled, s, node.index);
  const content = withoutException(contentOf(entry), held.kind);
  putEntry(
    compiled,
    s,
    node.index,
    isEmpty(content) ? undefined : { student: held.student, item: node.id, ...content },
  );
  try {
    return shown(compiled, s);
  } finally {
    putEntry(compiled, s, node.index, entry);
  }
}

function shown(compiled: CompiledBook, s: number): ShownStanding {
  const { percent, letter } = studentResult(compiled, workOutStudent(compiled, s));
  return { percent, letter };
}

/** The student by themselves in the same book, without what holds for them as a whole. */
function alone(compiled: CompiledBook, s: number, kind: 'extra-time' | 'override'): ShownStanding {
  const { id, extraTimeHours, ...rest } = compiled.book.students[s]!;
  const time = kind === 'override' && extraTimeHours !== undefined ? { extraTimeHours } : {};
  const book: BookDocument = {
    ...compiled.book,
    students: [{ id, ...rest, ...time }],
    entries: entriesOf(compiled).filter((e) => e.student === id),
    overrides: kind === 'override' ? [] : (compiled.book.overrides ?? []).filter((o) => o.student === id),
  };
  return shown(compileBook(book), 0);
}
