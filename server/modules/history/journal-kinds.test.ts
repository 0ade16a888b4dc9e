import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { JournalKind } from '@contract/history';
import { misformattedLines } from '../../testing/journal-formats';
import { operation } from '../../testing/person';
import { testSchool, type TestSchool } from '../../testing/school';
import { journalKinds } from '../../journal-kinds';

let school: TestSchool;
beforeAll(async () => {
  school = await testSchool();
});
afterAll(() => school.close());

interface Schema {
  type?: string;
  enum?: string[];
  const?: unknown;
  pattern?: string;
  format?: string;
  properties?: Record<string, Schema>;
  items?: Schema;
  anyOf?: Schema[];
  additionalProperties?: boolean | Schema;
  'x-words'?: string;
}

/** Places of a format in which anybody could write anything. */
function freeText(schema: Schema, at = ''): string[] {
  if (schema['x-words']) return [];
  const inside = [
    ...Object.entries(schema.properties ?? {}).map(([key, s]) => [`${at}/${key}`, s] as const),
    ...(schema.items ? [[`${at}[]`, schema.items] as const] : []),
    ...(schema.anyOf ?? []).map((s) => [at, s] as const),
  ];
  const open = schema.type === 'object' && schema.additionalProperties !== false ? [`${at} (any key)`] : [];
  const free =
    schema.type === 'string' &&
    schema.enum === undefined &&
    schema.const === undefined &&
    schema.pattern === undefined &&
    schema.format === undefined;
  return [...(free ? [at] : []), ...open, ...inside.flatMap(([place, s]) => freeText(s, place))];
}

describe('the kinds of lines', () => {
  it('are registered once each, by the capabilities that write them', () => {
    const names = journalKinds.all.map((d) => d.kind);
    expect([...names].sort()).toEqual([...(JournalKind as unknown as { enum: string[] }).enum].sort());
  });

  it('hold ids, numbers, moments and states; where they hold words, they are the book’s own', () => {
    for (const { kind, format } of journalKinds.all) expect([kind, freeText(format as Schema)]).toEqual([kind, []]);
    // What a check of this kind lets through would be of no use.
    expect(
      freeText({ type: 'object', additionalProperties: false, properties: { reason: { type: 'string' } } }),
    ).toEqual(['/reason']);
  });

  it('that nobody here knows are loaded anew by open pages, and are not put back', () => {
    expect(journalKinds.liveScope('from-a-newer-server')).toBe('document');
    expect(journalKinds.refusal({ kind: 'from-a-newer-server', was: '1', becomes: '2' })).toContain(
      'cannot be put back',
    );
  });

  it('describe what is written', async () => {
    const { teacher, put, adaId, benId, cleoId } = school;
    const scored = async (assessment: string, enrolment: string, ...changes: object[]): Promise<void> => {
      for (const [version, change] of changes.entries())
        expect((await put(assessment, enrolment, version, change)).status).toBe(200);
    };
    await scored('moss', adaId, { kind: 'received', at: '2026-10-11T08:00:00.125Z' }, { kind: 'score', points: 12.5 });
    await scored('moss', benId, { kind: 'state', state: 'excused' });
    await scored(
      'reed',
      benId,
      { kind: 'score', points: 3 },
      { kind: 'late', units: 2 },
      { kind: 'protect', on: true },
    );
    await scored('test', cleoId, { kind: 'allowances', count: 2 });
    await scored('reed', cleoId, { kind: 'set', points: 7.25 }, { kind: 'due', dueAt: '2026-12-14T17:00:00Z' });
    await school.release('moss', null);
    await teacher.must('POST', '/books/fens/withdraw', {
      operation: operation(),
      assessment: 'moss',
      enrolments: [adaId],
    });
    await teacher.must('PUT', `/books/fens/staff-notes/${adaId}/moss`, {
      ...{ operation: operation(), version: 0, note: 'Look at the second page.', secondLook: true },
    });
    await teacher.must('PATCH', '/books/fens', { operation: operation(), showsStanding: true, title: 'The fens' });
    expect(await misformattedLines(school.pool)).toEqual([]);
    const { rows } = await school.pool.query<{ kind: string }>('select distinct kind from journal');
    const seen = new Set(rows.map((r) => r.kind));
    for (const kind of ['cell', 'release', 'withdraw', 'note', 'settings', 'assessment', 'enrol', 'book'])
      expect(seen).toContain(kind);
  });
});
