import { Type } from '@sinclair/typebox';
import { EntryState } from './scores';
import { BookAddress, Id, Maybe, Operation, Shape, Version, type Static } from './wire';
import { OpenedBy } from './work/submissions';
import { StaffNote } from './annotations';
import { JournalKind } from './history';
/** PUT /books/{book}/place: where the person's cursor is. */
export const PlaceWrite = Shape({ connection: Operation, enrolment: Maybe(Id), assessment: Maybe(Id) });
export type PlaceWrite = Static<typeof PlaceWrite>;

export const PersonHere = Shape({
  connection: Type.String(),
  name: Type.String(),
  enrolment: Maybe(Id),
  assessment: Maybe(Id),
});
export type PersonHere = Static<typeof PersonHere>;

const told = { book: BookAddress };
/** Of one, or '*': a file that is given to everybody. */
const OneOrAll = Type.String({ pattern: '^(\\*|[A-Za-z0-9._-]{1,64})$' });

/**
 * What GET /events sends, as server-sent events: what others change in the books that its page follows, each with its
 * book. `hello` first; `cells` and `remarks` carry what is kept now, each with who changed it last (empty: the person
 * themselves); `beside` says what changed beside the sheet, which stays as it is; `marking`, whose
 * work was given something; `feedback`, in whose note somebody wrote (`note`, the version that it has now) or to whom a file
 * was given; `book`, that it is to be loaded anew;
 * `slip`, that something of an assessment was released or withdrawn, or what was released was opened;
 * `opened`, who of the staff opened work or looked it through; `people` is everybody else who is here; `gone`, that the book is not theirs to follow.
 */
export const LiveEvent = Type.Union([
  Shape({ kind: Type.Literal('hello'), ...told, connection: Type.String(), seq: Version }),
  Shape({
    kind: Type.Literal('cells'),
    ...told,
    seq: Version,
    cells: Type.Array(EntryState),
    by: Type.Array(Type.String()),
  }),
  Shape({ kind: Type.Literal('remarks'), ...told, seq: Version, remarks: Type.Array(StaffNote) }),
  Shape({ kind: Type.Literal('beside'), ...told, seq: Version, what: Type.Array(JournalKind) }),
  Shape({
    kind: Type.Literal('marking'),
    ...told,
    seq: Version,
    places: Type.Array(Shape({ assessment: Id, enrolment: Id })),
  }),
  Shape({
    kind: Type.Literal('feedback'),
    ...told,
    assessment: Id,
    enrolment: OneOrAll,
    work: OneOrAll,
    note: Maybe(Version),
  }),
  Shape({ kind: Type.Literal('marks'), ...told, assessment: Id, enrolment: Id, work: Id }),
  Shape({ kind: Type.Literal('opened'), ...told, assessment: Id, enrolment: Id, work: Id, ...OpenedBy.properties }),
  Shape({ kind: Type.Literal('slip'), ...told, assessment: Id }),
  Shape({ kind: Type.Literal('book'), ...told, seq: Version, what: Type.Array(JournalKind) }),
  Shape({ kind: Type.Literal('people'), ...told, people: Type.Array(PersonHere) }),
  Shape({ kind: Type.Literal('gone'), ...told }),
]);
export type LiveEvent = Static<typeof LiveEvent>;

/** What GET /my/events sends: that something of an assessment was released to the student who asks, or withdrawn. */
export const OwnEvent = Shape({ kind: Type.Literal('slip'), ...told, assessment: Id });
export type OwnEvent = Static<typeof OwnEvent>;
