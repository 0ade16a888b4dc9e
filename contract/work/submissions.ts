import { Type } from '@sinclair/typebox';
import { FILE_KINDS } from '@core/work/file-kinds';
import { Handout, RichText } from './instructions';
import { LineSchema } from '../overview';
import {
  Amount,
  Choice,
  fileProperties,
  Id,
  Maybe,
  Moment,
  Operation,
  Shape,
  Title,
  Version,
  type Static,
} from '../wire';

/** In which ways work is handed in through the application. */
export const HandInKind = Choice('files', 'text', 'link');
export type HandInKind = Static<typeof HandInKind>;

/** A statement of own work in words; '' none. */
export const Statement = Type.String({ maxLength: 500, 'x-words': 'book' });

/** How an assessment's work is handed in. What is left out is as usual: any way, one attempt, anything of any kind. */
export const WorkSettings = Shape({
  kinds: Type.Optional(Type.Array(HandInKind, { minItems: 1, maxItems: 3, uniqueItems: true })),
  /** Where nothing is handed in through the application: on paper or in the room, by another tool, or nothing at all. */
  elsewhere: Type.Optional(Choice('room', 'tool', 'nothing')),
  opens: Type.Optional(Moment),
  /** Null: no limit. */
  attempts: Type.Optional(Maybe(Type.Integer({ minimum: 1, maximum: 100 }))),
  mostFiles: Type.Optional(Type.Integer({ minimum: 1, maximum: 50 })),
  mostMegabytes: Type.Optional(Type.Integer({ minimum: 1, maximum: 200 })),
  types: Type.Optional(
    Type.Array(Choice(...FILE_KINDS), { minItems: 1, maxItems: FILE_KINDS.length, uniqueItems: true }),
  ),
  /** What the student ticks, word for word; '' nothing, left out: what the book says. */
  statement: Type.Optional(Statement),
  /** Handed in stays handed in: nothing is taken back. */
  keepsAll: Type.Optional(Type.Boolean()),
  /** Handing in shows that one was there: the list as a file says so. */
  presence: Type.Optional(Type.Boolean()),
  /** Who marked it is not said to students, from the next release on. */
  markersHidden: Type.Optional(Type.Boolean()),
  /** Whose work it is is not said to the staff while it is marked … */
  namesHidden: Type.Optional(Type.Boolean()),
  /** … until the names were shown, for all at once. */
  namesShown: Type.Optional(Type.Boolean()),
  /** Of what the teachers hear as it comes in; left out: of nothing. */
  hears: Type.Optional(Choice('all', 'late')),
});
export type WorkSettings = Static<typeof WorkSettings>;

export const SubmissionState = Choice('begun', 'handed-in', 'taken-back', 'moved');

export const SubmissionFile = Shape({
  ...fileProperties,
  /** What is odd about it, in a sentence. */
  odd: Maybe(Type.String()),
  /** It is of no kind that is taken. */
  refused: Type.Boolean(),
});
export type SubmissionFile = Static<typeof SubmissionFile>;

export const Submission = Shape({
  id: Id,
  state: SubmissionState,
  version: Version,
  typed: Type.String(),
  link: Type.String(),
  files: Type.Array(SubmissionFile),
  statement: Maybe(Type.String()),
  receipt: Maybe(Type.String()),
  attempt: Maybe(Version),
  begunAt: Moment,
  handedInAt: Maybe(Moment),
});
export type Submission = Static<typeof Submission>;

/** One assessment as its student hands in: GET /my/books/{book}/assessments/{assessment}. */
export const StudentAssessment = Shape({
  book: Id,
  bookTitle: Title,
  timeZone: Type.String(),
  asOf: Moment,
  id: Id,
  title: Title,
  points: Amount,
  takesWork: Type.Boolean(),
  settings: WorkSettings,
  /** What it asks for, and the files that go with it. */
  instructions: Maybe(RichText),
  handouts: Type.Array(Handout),
  due: Maybe(Moment),
  closes: Maybe(Moment),
  /** What the rule makes of work that is handed in at `asOf`; empty: in time. */
  late: Type.Array(LineSchema),
  /** Why nothing can be handed in now; '': it can. */
  shut: Type.String(),
  /** They are not in the book any more: they read, and do nothing. */
  left: Type.Boolean(),
  attemptsLeft: Maybe(Version),
  /** It was given back, and nothing came since: until then, with what the staff said. */
  again: Maybe(Shape({ until: Moment, comment: Type.String() })),
  /** What was begun, or null; and what was handed in or taken back before, the latest first. */
  begun: Maybe(Submission),
  before: Type.Array(Submission),
});
export type StudentAssessment = Static<typeof StudentAssessment>;

/** GET /my/due: what is due in all of one's books, soonest first. */
export const DueList = Shape({
  asOf: Moment,
  work: Type.Array(
    Shape({
      book: Id,
      bookTitle: Title,
      timeZone: Type.String(),
      assessment: Id,
      title: Title,
      points: Amount,
      due: Maybe(Moment),
      closes: Maybe(Moment),
      takesWork: Type.Boolean(),
      kinds: Type.Array(HandInKind),
      elsewhere: Choice('room', 'tool', 'nothing'),
      state: Type.String(),
      /** It was given back, and nothing came since. */
      again: Type.Boolean(),
      /** Parts that lie there and are not handed in. */
      lying: Version,
    }),
  ),
});
export type DueList = Static<typeof DueList>;

/** PUT …/work: what is typed, as it is typed. `version` 0: nothing was begun. */
export const WorkWrite = Shape({
  version: Version,
  typed: Type.String({ maxLength: 200_000 }),
  link: Type.String({ maxLength: 2_000 }),
});
export type WorkWrite = Static<typeof WorkWrite>;

/** POST …/files: a file is to come; `id` is chosen by the page, so that it is added once. */
export const FileWrite = Shape({
  id: Id,
  name: Type.String({ minLength: 1, maxLength: 255, pattern: '\\S' }),
  bytes: Type.Integer({ minimum: 0, maximum: 1_000_000_000_000 }),
});
export type FileWrite = Static<typeof FileWrite>;

/** POST …/hand-in: all that lies there. */
export const HandInWrite = Shape({
  operation: Operation,
  submission: Id,
  version: Version,
  /** The words that were ticked. */
  statement: Maybe(Type.String({ maxLength: 500 })),
  /** When it was pressed, by the page's clock. */
  pressedAt: Moment,
});
export type HandInWrite = Static<typeof HandInWrite>;
/** POST /books/{book}/submissions/{submission}/accept: take in what lies there, in its student's place. */
export const AcceptWrite = Shape({
  operation: Operation,
  version: Version,
  reason: Type.String({ minLength: 1, maxLength: 500, pattern: '\\S' }),
});
export type AcceptWrite = Static<typeof AcceptWrite>;
/** POST /books/{book}/submissions/{submission}/move: to where it belongs, the same student's. */
export const MoveWrite = Shape({
  operation: Operation,
  version: Version,
  to: Shape({ book: Id, assessment: Id }),
  reason: Type.String({ minLength: 1, maxLength: 500, pattern: '\\S' }),
});
export type MoveWrite = Static<typeof MoveWrite>;
export const TakeBackWrite = Shape({ operation: Operation, submission: Id, version: Version });
export type TakeBackWrite = Static<typeof TakeBackWrite>;
/** `submission`: as it is now. */
export const HandedIn = Shape({ submission: Submission });
export type HandedIn = Static<typeof HandedIn>;

/** One of the staff who opened what was handed in last, by name, the asker as "you"; `through`: looked through to its end. */
export const OpenedBy = Shape({ by: Type.String(), through: Type.Boolean() });
export type OpenedBy = Static<typeof OpenedBy>;

/** POST /books/{book}/submissions/{submission}/opened. */
export const SubmissionOpened = Shape({ through: Type.Optional(Type.Boolean()) });

/** GET /books/{book}/assessments/{assessment}/arrivals: every student, with what came. */
export const Arrivals = Shape({
  asOf: Moment,
  /** Handing in shows that one was there. */
  presence: Type.Boolean(),
  students: Type.Array(
    Shape({
      enrolment: Id,
      due: Maybe(Moment),
      /** Work is taken in from this student still. */
      open: Type.Boolean(),
      /** It was given back to them until then, and nothing came since. */
      openAgain: Maybe(Moment),
      submissions: Type.Array(Submission),
      openedBy: Type.Array(OpenedBy),
      /** What the rule takes for lateness of the last attempt, in words; '' where nothing. */
      late: Type.String(),
    }),
  ),
});
export type Arrivals = Static<typeof Arrivals>;

/** What happened to a submission, with its time and who did it. */
export const SubmissionTrace = Shape({
  at: Moment,
  by: Type.String(),
  kind: Type.String(),
  /** The file that it is about; '' none. */
  file: Type.String(),
});
export const SubmissionHistory = Type.Array(SubmissionTrace);
export type SubmissionHistory = Static<typeof SubmissionHistory>;

/** GET /where/students?words=: students of the asker's books (the office: of the school) whose name or number fits. */
export const WhereStudents = Type.Array(Shape({ person: Id, name: Type.String(), number: Type.String() }));
export type WhereStudents = Static<typeof WhereStudents>;

/** What became of one student's work for one assessment, or of one piece of it. */
export const WhereFinding = Shape({
  book: Id,
  bookTitle: Title,
  timeZone: Type.String(),
  assessment: Id,
  title: Title,
  enrolment: Id,
  /** The asker may move and take in here; others look. */
  manages: Type.Boolean(),
  /** And give back: the teachers of the book. */
  teaches: Type.Boolean(),
  /** They are not in the book any more. */
  left: Type.Boolean(),
  kind: Choice(
    'handed-in',
    'coming',
    'broke-off',
    // Whose it is, and so whether there is any, is not said until names are shown.
    'hidden',
    'begun',
    'taken-back',
    'moved',
    'recorded',
    'excused',
    'elsewhere',
    'nothing',
  ),
  submission: Maybe(Submission),
  /** When it came, was begun, or was last heard of. */
  at: Maybe(Moment),
  scored: Type.Boolean(),
  due: Maybe(Moment),
  late: Type.Boolean(),
  /** It can still be handed in. */
  open: Type.Boolean(),
  /** Where it went, or came from. */
  other: Maybe(Shape({ bookTitle: Title, title: Title })),
});
export type WhereFinding = Static<typeof WhereFinding>;

/**
 * GET /where?person&book&assessment, or ?of&enrolment for a student by their enrolment in a book: all that is known, the
 * latest first; `book` and `assessment` narrow it.
 */
export const Where = Shape({
  asOf: Moment,
  person: Id,
  name: Type.String(),
  number: Type.String(),
  findings: Type.Array(WhereFinding),
  /** Assessments of the books that both are in, to move to or to ask about. */
  assessments: Type.Array(
    Shape({ book: Id, bookTitle: Title, assessment: Id, title: Title, takesWork: Type.Boolean() }),
  ),
});
export type Where = Static<typeof Where>;
