import { Type } from '@sinclair/typebox';
import type { CriterionMark } from '@core/rubric/document';
import { Amount, Id, Maybe, Shape, Version } from '@contract/wire';
import type { BatchLine } from '../../kernel/journal/sql/batches';
import { CANNOT, type JournalKindDefinition, type PutBackWay } from '../books';
import { levelsLine, levelsText } from './levels';
import { criterionMarksOf, putCriterionMarks, type CriterionMarkRow } from './sql/criterion-marks';
import type { AssessmentPlace } from './sql/rubrics';

/** What a line of marks says. */
interface Levels {
  work: string;
  rubric: number;
  marks: { criterion: string; mark: CriterionMark | null }[];
}

const MARK = Maybe(Type.Union([Shape({ points: Amount }), Shape({ leftOut: Type.Literal(true) })]));
const read = (text: string): Levels => JSON.parse(text) as Levels;

/** Marks become what they were, as long as the rubric is the one that they were given by. */
const levelsWay: PutBackWay = {
  frame: false,
  async open(db, who, lines) {
    const placeOf = (l: BatchLine): AssessmentPlace => ({ school: who.school, book: who.book, assessment: l.assessment! }); // prettier-ignore
    const kept = new Map<string, CriterionMarkRow[]>();
    for (const l of lines) {
      const key = `${l.assessment} ${l.enrolment}`;
      if (!kept.has(key)) kept.set(key, await criterionMarksOf(db, placeOf(l), l.enrolment));
    }
    const rowsOf = (l: BatchLine): CriterionMarkRow[] => {
      const { work, marks } = read(l.becomes!);
      const rows = kept.get(`${l.assessment} ${l.enrolment}`)!.filter((r) => r.work === work);
      return marks.flatMap((m) => rows.find((r) => r.criterion === m.criterion) ?? []);
    };
    return {
      said: (l) => l.becomes,
      text(l) {
        const rows = rowsOf(l);
        return rows.length === 0 ? null : levelsText({ work: rows[0]!.work, rubric: rows[0]!.rubric }, rows);
      },
      async put(tx, l) {
        const was = read(l.was!);
        const rows = rowsOf(l);
        const next = rows.map((r) => ({
          ...r,
          version: r.version + 1,
          mark: was.marks.find((m) => m.criterion === r.criterion)?.mark ?? null,
        }));
        await putCriterionMarks(tx, placeOf(l), who.person, next);
        kept.set(`${l.assessment} ${l.enrolment}`, [
          ...kept.get(`${l.assessment} ${l.enrolment}`)!.filter((r) => !rows.includes(r)),
          ...next,
        ]);
        return levelsLine(placeOf(l), l.enrolment!, was, rows, next);
      },
    };
  },
};

const RUBRIC =
  'A rubric is not put back from the journal: its page holds every version, and takes an earlier one again.';

export const markingKinds: JournalKindDefinition[] = [
  {
    kind: 'rubric',
    version: 1,
    format: Shape({ version: Version, sha256: Type.Optional(Type.String({ pattern: '^[0-9a-f]{64}$' })) }),
    topic: 'assessments',
    live: 'beside',
    managed: true,
    putBack: RUBRIC,
    madeNew: RUBRIC,
  },
  {
    kind: 'levels',
    version: 1,
    format: Shape({ work: Id, rubric: Version, marks: Type.Array(Shape({ criterion: Id, mark: MARK })) }),
    topic: 'scores',
    live: 'marking',
    managed: false,
    putBack: levelsWay,
    madeNew: CANNOT,
  },
];
