import type { BookDocument } from '../book/document';
import { compileBook } from '../calculation/compile';
import { workOutStudent, type FinalPercent } from '../calculation/final';
import { compare, subtract, toNumber, toText, type Fraction } from '../exact/fraction';

/** One student before and after. Percents as rounded texts; `moves` is the exact difference, or null where there is none. */
export interface Mover {
  student: string;
  before: { percent: string | null; letter: string | null };
  after: { percent: string | null; letter: string | null };
  moves: string | null;
  direction: 'up' | 'down' | 'gains' | 'loses';
  crosses: boolean;
}

/** Two books compared: everybody whose standing is not the same, and how many go which way. */
export interface Trial {
  students: number;
  up: number;
  down: number;
  stay: number;
  crossing: number;
  movers: Mover[];
  /** Every student's percentage before and after as a double, for drawing. NaN: none. */
  line: { student: string; before: number; after: number; crosses: boolean }[];
}

/** Compares two checked books over the students of the first that are in both. */
export function compareBooks(before: BookDocument, after: BookDocument): Trial {
  const a = compileBook(before);
  const b = compileBook(after);
  const trial: Trial = { students: 0, up: 0, down: 0, stay: 0, crossing: 0, movers: [], line: [] };
  before.students.forEach((student, i) => {
    const j = b.studentIndex.get(student.id);
    if (j === undefined) return;
    trial.students++;
    const was = workOutStudent(a, i).final;
    const is = workOutStudent(b, j).final;
    const mover = move(student.id, was, is);
    const crosses = was.letter !== is.letter;
    trial.line.push({
      student: student.id,
      before: was.exact === null ? NaN : toNumber(was.exact),
      after: is.exact === null ? NaN : toNumber(is.exact),
      crosses,
    });
    if (!mover) {
      trial.stay++;
      return;
    }
    trial.movers.push(mover);
    if (mover.direction === 'up' || mover.direction === 'gains') trial.up++;
    else trial.down++;
    if (crosses) trial.crossing++;
  });
  return trial;
}

function move(student: string, was: FinalPercent, is: FinalPercent): Mover | null {
  const same = was.rounded === is.rounded && was.letter === is.letter;
  if (same) return null;
  const gone = was.exact !== null && is.exact === null;
  const difference: Fraction | null = was.exact === null || is.exact === null ? null : subtract(is.exact, was.exact);
  const rises = difference === null ? !gone : compare(is.exact!, was.exact!) >= 0;
  return {
    student,
    before: { percent: was.rounded, letter: was.letter },
    after: { percent: is.rounded, letter: is.letter },
    moves: difference === null ? null : toText(difference),
    direction: difference === null ? (gone ? 'loses' : 'gains') : rises ? 'up' : 'down',
    crosses: was.letter !== is.letter,
  };
}
