import { Type } from '@sinclair/typebox';
import { EntryState } from './scores';
import { Choice, Id, Maybe, Moment, Operation, Reason, Shape, Version, type Static } from './wire';
import { StaffNote } from './annotations';

/** What a line of the journal is about; each has its definition in the capability that writes it. */
export const JournalKind = Choice(
  'cell',
  'note',
  'rules',
  'assessment',
  'order',
  'release',
  'withdraw',
  'feedback-release',
  'planned-release',
  'enrol',
  'override',
  'section',
  'section-variant',
  'calculation',
  'staff',
  'group',
  'book',
  'settings',
  'submission',
  'letter',
  'question',
  'instructions',
  'rubric',
  'levels',
  'feedback',
  'feedback-attachment',
  'marks',
);
export type JournalKind = Static<typeof JournalKind>;

/** One line of a set: what was and what is. Texts are canonical JSON of what the line is about; null: nothing. */
export const JournalCell = Shape({
  seq: Version,
  kind: JournalKind,
  assessment: Maybe(Id),
  enrolment: Maybe(Id),
  was: Maybe(Type.String()),
  becomes: Maybe(Type.String()),
  /** About a student and their work, of which neither is told until names are shown. */
  hidden: Type.Optional(Type.Literal(true)),
});
export type JournalCell = Static<typeof JournalCell>;

/** Changes that were made together: one typed score, a paste, an intake, a release. */
export const JournalSet = Shape({
  batch: Id,
  first: Version,
  last: Version,
  at: Moment,
  by: Type.String(),
  /** The kind of its lines. */
  kind: JournalKind,
  /** What the set was: paste, fill, intake, undo …; null where it is one change alone. */
  set: Maybe(Type.String()),
  title: Type.String(),
  reason: Type.String(),
  /** Lines that match what was asked for, and of them the first few. */
  lines: Version,
  /** Students whom those lines are about. */
  students: Version,
  shown: Type.Array(JournalCell),
  undone: Type.Boolean(),
  /** It can be put back from the journal. */
  undoable: Type.Boolean(),
});
export type JournalSet = Static<typeof JournalSet>;

/** GET /books/{book}/journal?enrolment&assessment&person&kind&from&to&words&before: the latest first, in pages. */
export const JournalPage = Shape({
  sets: Type.Array(JournalSet),
  /** Ask with `before` for those earlier; null: this is the beginning. */
  before: Maybe(Version),
  /** All lines of the book. */
  total: Version,
  people: Type.Array(Shape({ id: Id, name: Type.String() })),
  /** Texts of the notes that the shown lines name. */
  notes: Type.Record(Type.String(), Type.String()),
});
export type JournalPage = Static<typeof JournalPage>;

/** GET /books/{book}/journal/{batch}: all lines of one set. */
export const JournalLines = Shape({
  lines: Type.Array(JournalCell),
  notes: Type.Record(Type.String(), Type.String()),
});
export type JournalLines = Static<typeof JournalLines>;

/** What putting back would do to one line's place, and what stands on it since. */
export const PutBackLine = Shape({
  seq: Version,
  kind: JournalKind,
  assessment: Maybe(Id),
  enrolment: Maybe(Id),
  now: Maybe(Type.String()),
  becomes: Maybe(Type.String()),
  later: Maybe(Shape({ seq: Version, at: Moment, by: Type.String(), becomes: Maybe(Type.String()) })),
});
export type PutBackLine = Static<typeof PutBackLine>;
export const PutBackPreview = Shape({
  batch: Id,
  title: Type.String(),
  undone: Type.Boolean(),
  lines: Type.Array(PutBackLine),
});
export type PutBackPreview = Static<typeof PutBackPreview>;

/** POST /books/{book}/journal/{batch}/put-back. */
export const PutBackWrite = Shape({
  operation: Operation,
  /** Only these lines; all where left out. */
  only: Type.Optional(Type.Array(Version, { minItems: 1, maxItems: 50_000 })),
  /** Leave those that later changes stand on; otherwise one of them refuses the whole. */
  leaveLater: Type.Boolean(),
  reason: Reason,
});
export type PutBackWrite = Static<typeof PutBackWrite>;

/** What undo, redo and putting back did. Cells and remarks are as they are now; `book`: more than those changed. */
export const PutBackMade = Shape({
  batch: Id,
  seq: Version,
  title: Type.String(),
  left: Version,
  cells: Type.Array(EntryState),
  remarks: Type.Array(StaffNote),
  book: Type.Boolean(),
});
export type PutBackMade = Static<typeof PutBackMade>;
export const UndoWrite = Shape({ operation: Operation });

/** GET /books/{book}/between?from&to: what differs between two moments of a book. */
export const Between = Shape({
  from: Shape({ seq: Version, at: Maybe(Moment) }),
  to: Shape({ seq: Version, at: Maybe(Moment) }),
  /** The first of the cells that are others, and how many there are in all. */
  cells: Type.Array(Shape({ assessment: Id, enrolment: Id, was: Maybe(Type.String()), becomes: Maybe(Type.String()) })),
  cellsInAll: Version,
  rules: Type.Boolean(),
  assessments: Type.Array(Id),
  /** Standings that are others: as text, null where there is none. */
  standings: Type.Array(
    Shape({
      enrolment: Id,
      before: Maybe(Type.String()),
      after: Maybe(Type.String()),
      letterBefore: Maybe(Type.String()),
      letterAfter: Maybe(Type.String()),
    }),
  ),
});
export type Between = Static<typeof Between>;
