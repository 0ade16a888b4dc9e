import type { BookDocument, ResultDocument, StudentResult } from '../book/document';
import { HUNDRED, multiply, toText } from '../exact/fraction';
import { compileBook, type CompiledBook } from './compile';
import { workOutStudent, type StudentOutcome } from './final';

/** One student's part of the result document (contract, section 9). */
export function studentResult(compiled: CompiledBook, outcome: StudentOutcome): StudentResult {
  return {
    id: outcome.student.id,
    percent: outcome.final.rounded,
    exact: outcome.final.exact === null ? null : toText(outcome.final.exact),
    letter: outcome.final.letter,
    low: outcome.low.rounded,
    high: outcome.high.rounded,
    items: compiled.items.map((item, i) => {
      const value = outcome.values[i]!;
      return {
        id: item.id,
        state: value.state,
        earned: value.earned === null ? null : toText(value.earned),
        dropped: outcome.tree.dropped[i] === true,
      };
    }),
    groups: compiled.groups.map((group, i) => {
      const ratio = outcome.tree.outcomes[i]!.ratio;
      return { id: group.id, exact: ratio === null ? null : toText(multiply(ratio, HUNDRED)) };
    }),
  };
}

/** The whole result of a checked book. */
export function computeBook(book: BookDocument): ResultDocument {
  const compiled = compileBook(book);
  return {
    format: 'last-tally.result/1',
    students: book.students.map((_, i) => studentResult(compiled, workOutStudent(compiled, i))),
  };
}
