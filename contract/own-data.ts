import { Type } from '@sinclair/typebox';
import { Notices } from './notices';
import { Slip } from './slips';
import { StudentBook } from './statements';
import { StudentAssessment } from './work/submissions';
import { Thread } from './work/threads';
import { Id, Moment, Shape, type Static } from './wire';

/** GET /my/data: all that is kept of the student who asks and that they may read, as one file (docs/formats/own-data.md). */
export const OwnData = Shape({
  format: Type.Literal('last-tally own data'),
  version: Type.Literal(1),
  madeAt: Moment,
  school: Type.String(),
  person: Shape({ login: Type.String(), family: Type.String(), given: Type.String() }),
  books: Type.Array(
    Shape({
      /** Scores with their working, standing, dates, as the page has them. */
      page: StudentBook,
      /** What each assessment says, and what was handed in to it, with receipts. */
      work: Type.Array(StudentAssessment),
      /** What came back beside scores. */
      slips: Type.Array(Slip),
      /** What was asked and answered. */
      threads: Type.Array(Shape({ assessment: Id, thread: Thread })),
    }),
  ),
  /** What they were told. */
  notices: Notices,
});
export type OwnData = Static<typeof OwnData>;
