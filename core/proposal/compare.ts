import type { BookDocument } from '../book/document';
import { compileBook, type CompiledBook } from '../calculation/compiled/compile';
import {
  emptyStandings,
  makeStandingsWorker,
  workOutStanding,
  standingAt,
  standingsOf,
  type Standings,
} from '../estimate/standings';
import { figureText } from '../estimate/figures';
import type { CompiledScale } from '../calculation/letters';
import type { Cause } from './causes';

/** A percentage as it is shown, and its letter. */
export interface Shown {
  percent: string | null;
  letter: string | null;
}

/** One student whose shown percentage or letter is not the same before and after. */
export interface Mover {
  student: string;
  before: Shown;
  after: Shown;
  /** The difference of the shown figures with its sign ("+2.5"), or null where one of them is none. */
  moves: string | null;
  direction: 'up' | 'down' | 'gains' | 'loses';
  /** The letter is another. */
  crosses: boolean;
  /** Which rule or entry moves them; only where asked for ({@link findCauses}). */
  causes?: Cause[];
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
  /** Everybody whose figure on the other scale is another, whether they move or not; null: there is none. */
  shown: { student: string; before: string | null; after: string | null }[];
  /** Ids of students who are in the second book alone, and in the first alone. */
  joined: string[];
  left: string[];
}

export const emptyTrial = (): Trial => ({
  students: 0,
  up: 0,
  down: 0,
  stay: 0,
  crossing: 0,
  movers: [],
  line: [],
  shown: [],
  joined: [],
  left: [],
});

/** Compares two checked books, student by student. */
export function compareBooks(before: BookDocument, after: BookDocument): Trial {
  return compareCompiled(compileBook(before), compileBook(after));
}

/** The same for compiled ones; `known`: the standings of the first, where they are at hand. */
export function compareCompiled(a: CompiledBook, b: CompiledBook, known: Standings = standingsOf(a)): Trial {
  const trial = emptyTrial();
  trial.joined = b.students.filter((s) => !a.studentIndex.has(s.id)).map((s) => s.id);
  const reckoner = makeStandingsWorker(b);
  const is = emptyStandings(b, 1);
  a.students.forEach(({ id }, i) => {
    const j = b.studentIndex.get(id);
    if (j === undefined) {
      trial.left.push(id);
      return;
    }
    is.exactStandings.clear();
    workOutStanding(reckoner, j, is, 0);
    trial.students++;
    const crosses = known.letter[i] !== is.letter[0];
    trial.line.push({ student: id, before: known.at[i]!, after: is.at[0]!, crosses });
    const shown = { student: id, before: known.shown[i] ?? null, after: is.shown[0] ?? null };
    if (shown.before !== shown.after) trial.shown.push(shown);
    const mover = moverOf(id, known, i, is, b.scale);
    if (!mover) {
      trial.stay++;
      return;
    }
    trial.movers.push(mover);
    if (isLetteredAnew(mover)) trial.stay++;
    else if (mover.direction === 'up' || mover.direction === 'gains') trial.up++;
    else trial.down++;
    if (crosses) trial.crossing++;
  });
  return trial;
}

/** The same figure, with a letter where there was none, or with none any more: nobody is better or worse off by that. */
const isLetteredAnew = ({ before, after, moves }: Mover): boolean =>
  moves !== null && Number(moves) === 0 && (before.letter === null) !== (after.letter === null);

/** Null where the student's shown figure and letter are the same. */
function moverOf(student: string, was: Standings, i: number, is: Standings, scale: CompiledScale | null): Mover | null {
  const before = standingAt(was, i);
  const after = standingAt(is, 0);
  const none = before.percent === null || after.percent === null;
  // 70.0 and 70.00 are the same figure, shown otherwise.
  const same = none ? before.percent === after.percent : scaledDifference(was, i, is) === 0;
  if (same && before.letter === after.letter) return null;
  const gone = before.percent !== null && after.percent === null;
  return {
    student,
    before: { percent: before.percent, letter: before.letter },
    after: { percent: after.percent, letter: after.letter },
    moves: none ? null : difference(was, i, is),
    direction: none ? (gone ? 'loses' : 'gains') : isUp(was, i, is, scale) ? 'up' : 'down',
    crosses: before.letter !== after.letter,
  };
}

/** Whole figures subtract exactly once both are brought to the finer of the two roundings. */
function scaledDifference(was: Standings, i: number, is: Standings): number {
  const decimals = Math.max(was.decimals, is.decimals);
  return is.percent[0]! * 10 ** (decimals - is.decimals) - was.percent[i]! * 10 ** (decimals - was.decimals);
}

function difference(was: Standings, i: number, is: Standings): string {
  const scaled = scaledDifference(was, i, is);
  const size = figureText(Math.abs(scaled), Math.max(was.decimals, is.decimals))!;
  return scaled < 0 ? `-${size}` : `+${size}`;
}

/** With the same figure, a letter is better or worse as it stands in the second book's scale. */
function isUp(was: Standings, i: number, is: Standings, scale: CompiledScale | null): boolean {
  const by = scaledDifference(was, i, is);
  if (by !== 0 || scale === null) return by >= 0;
  const rank = (letter: string | null): number => (letter === null ? Infinity : scale.labels.indexOf(letter));
  return rank(is.letter[0]!) <= rank(was.letter[i]!);
}
