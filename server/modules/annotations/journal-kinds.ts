import { Type } from '@sinclair/typebox';
import { Id, Shape } from '@contract/wire';
import { CANNOT, type JournalKindDefinition, type PutBackWay } from '../books';
import type { BatchLine } from '../../kernel/journal/sql/batches';
import { staffNoteContent, upsertStaffNote, type StaffNoteContent } from './sql';
import { noteLine, WHOLE_STUDENT } from './staff-notes';

const placeOf = (l: BatchLine): string => l.assessment ?? WHOLE_STUDENT;

const noteWay: PutBackWay = {
  frame: false,
  async open(db, who, lines) {
    const now = new Map<number, StaffNoteContent & { version: number }>();
    for (const l of lines) now.set(l.seq, await staffNoteContent(db, who.school, who.book, l.enrolment!, placeOf(l)));
    return {
      said: (l) => l.becomes,
      text: (l) => noteLine(l.enrolment!, placeOf(l), now.get(l.seq)!, now.get(l.seq)!).becomes,
      async put(tx, l) {
        const was = now.get(l.seq)!;
        const content = JSON.parse(l.was!) as { note?: string; flag?: string };
        const is = { note: content.note ?? null, flag: content.flag ?? null };
        const place = { enrolment: l.enrolment!, place: placeOf(l), version: was.version + 1 };
        await upsertStaffNote(tx, who.school, who.book, { ...is, ...place });
        return noteLine(l.enrolment!, placeOf(l), was, is);
      },
    };
  },
};

export const annotationKinds: JournalKindDefinition[] = [
  {
    kind: 'note',
    version: 1,
    // The note's text stands beside, by its id; the flag is the person who set it.
    format: Shape({ note: Type.Optional(Id), flag: Type.Optional(Id) }),
    topic: 'notes',
    live: 'note',
    managed: false,
    putBack: noteWay,
    madeNew: CANNOT,
  },
];
