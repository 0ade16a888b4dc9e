import { Type } from '@sinclair/typebox';
import { Maybe, Shape } from '@contract/wire';
import { CANNOT, frameWay, type JournalKindDefinition, NOT_PUT_BACK, updateBook } from '../books';
import { settingsText } from './book-lifecycle';

const keysOf = (text: string | null): string[] => Object.keys(JSON.parse(text ?? '{}') as object);
const about = { version: 1, topic: 'settings', live: 'document' } as const;

export const lifecycleKinds: JournalKindDefinition[] = [
  { ...about, kind: 'book', format: Type.Object({}, { 'x-words': 'book' }), ...NOT_PUT_BACK },
  {
    ...about,
    kind: 'settings',
    format: Shape({
      showsStanding: Type.Optional(Type.Boolean()),
      title: Type.Optional(Type.String({ 'x-words': 'book' })),
      archived: Type.Optional(Type.Boolean()),
      statement: Type.Optional(Maybe(Type.String({ 'x-words': 'book' }))),
      hidesNames: Type.Optional(Maybe(Type.Boolean())),
    }),
    managed: true,
    madeNew: CANNOT,
    putBack: frameWay({
      text: (l, now) => settingsText(now.row, keysOf(l.becomes)),
      restore: (db, { school, book }, l) =>
        updateBook(db, school, book, JSON.parse(l.was!) as Parameters<typeof updateBook>[3]),
    }),
  },
];
