import { Type } from '@sinclair/typebox';
import { canonical } from '@core/book/canonical';
import type { EntryContent } from '@core/book/change';
import { Amount, Id, Maybe, Moment, Shape, Version } from '@contract/wire';
import { cellKeyOf, cellLine, nextCell, toStoredText } from '../../kernel/cells/cell';
import { writeCells, type CellRow } from '../../kernel/cells/sql';
import type { BatchLine } from '../../kernel/journal/sql/batches';
import {
  CANNOT,
  frameWay,
  MADE_NEW,
  type JournalKindDefinition,
  type PutBackWay,
  writeEnrolments,
  writeOverride,
} from '../books';
import { currentCells } from './change-cells';
import { enrolText } from './exceptions';
import { overrideText } from './overrides';

/** What a cell holds, as lines of cells, releases and withdrawals have it. `mark`, a label of the book's own rules. */
export const CELL_FORMAT = Shape({
  state: Type.Optional(Type.Union([Type.Literal('excused'), Type.Literal('missing'), Type.Literal('awaiting')])),
  attempts: Type.Optional(
    Type.Array(
      Shape({
        score: Type.Optional(Amount),
        mark: Type.Optional(Type.String({ 'x-words': 'book' })),
        receivedAt: Type.Optional(Moment),
        onTime: Type.Optional(Type.Boolean()),
        lateUnits: Type.Optional(Version),
      }),
    ),
  ),
  dueAt: Type.Optional(Moment),
  closesAt: Type.Optional(Moment),
  lateAllowances: Type.Optional(Version),
  set: Type.Optional(Type.Number()),
  protected: Type.Optional(Type.Boolean()),
});

const placeOf = (l: BatchLine): { assessment: string; enrolment: string } => ({
  assessment: l.assessment!,
  enrolment: l.enrolment!,
});

/** Cells become what they were one on the other, and are written together. */
const cellWay: PutBackWay = {
  frame: false,
  async open(db, who, lines) {
    const now = await currentCells(db, who.school, who.book, lines.map(placeOf));
    const at = (line: BatchLine): CellRow => now.get(cellKeyOf(placeOf(line)))!;
    const changed: CellRow[] = [];
    return {
      said: (line) => toStoredText(line.becomes!),
      text: (line) => canonical(at(line).content),
      async put(_db, line) {
        const was = at(line);
        const is = nextCell(was, { kind: 'put', entry: JSON.parse(line.was!) as EntryContent });
        changed.push(is);
        return cellLine(was, is);
      },
      async finish(tx) {
        if (changed.length > 0) await writeCells(tx, who.school, who.book, changed);
      },
    };
  },
};

/** Where a student was, as the journal says it. */
interface EnrolContent {
  section: string | null;
  extraTimeHours: number;
  left: boolean;
  variant?: string;
}

export const scoreKinds: JournalKindDefinition[] = [
  {
    kind: 'cell',
    version: 1,
    format: CELL_FORMAT,
    topic: 'scores',
    live: 'cell',
    managed: false,
    putBack: cellWay,
    madeNew: null,
  },
  {
    kind: 'override',
    version: 1,
    format: Shape({
      percent: Type.Optional(Type.Number()),
      letter: Type.Optional(Type.String({ 'x-words': 'book' })),
    }),
    topic: 'scores',
    live: 'document',
    managed: true,
    putBack: frameWay({
      text: (l, now) => overrideText(now.overrides.get(l.enrolment!) ?? { percent: null, letter: null }),
      restore(db, who, l, now) {
        const { percent = null, letter = null } = JSON.parse(l.was!) as { percent?: number; letter?: string };
        const version = (now.overrides.get(l.enrolment!)?.version ?? 0) + 1;
        return writeOverride(db, who.school, who.book, { enrolment: l.enrolment!, version, percent, letter });
      },
    }),
    madeNew: CANNOT,
  },
  {
    kind: 'enrol',
    version: 1,
    format: Shape({
      section: Maybe(Id),
      extraTimeHours: Amount,
      left: Type.Boolean(),
      variant: Type.Optional(Type.String({ 'x-words': 'book' })),
    }),
    topic: 'people',
    live: 'document',
    managed: true,
    putBack: frameWay({
      text(l, now) {
        const student = now.students.get(l.enrolment!);
        return student ? enrolText(student) : null;
      },
      restore(db, who, l) {
        const { variant: ownVariant = null, ...is } = JSON.parse(l.was!) as EnrolContent;
        return writeEnrolments(db, who.school, who.book, [{ id: l.enrolment!, ...is, ownVariant }]);
      },
    }),
    madeNew: MADE_NEW,
  },
];
