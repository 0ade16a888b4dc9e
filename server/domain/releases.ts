import { createHash } from 'node:crypto';
import type pg from 'pg';
import { canonical } from '@core/book/canonical';
import type { Skeleton } from '@core/book/assemble';
import { groupsOf, itemsOf, type BookDocument, type Group, type Item, type Node } from '@core/book/document';
import type { EntryContent } from '@core/book/change';
import { studentDocument } from '@core/book/student-document';
import { compileBook } from '@core/calculation/compile';
import { workOutStudent } from '@core/calculation/final';
import { studentResult } from '@core/calculation/result';
import { explainItem } from '@core/working/explain-item';
import { explainStanding } from '@core/working/explain-standing';
import { sentences } from '@core/working/sentences';
import type { Released, ReleaseWrite, WithdrawWrite } from '@contract/books';
import type { SlipBody } from '@contract/pages';

import { transaction, type Db } from '../store/database';
import * as journal from '../store/journal';
import { personName } from '../store/people';
import * as releases from '../store/releases';
import { assemble, type AssembledBook } from './books';
import { Refusal } from './problems';
import { type AssessmentRow } from '../store/assessments';
import { toDocumentStudent } from '../store/enrolments';

/** Releases one assessment to one, some or all: what each sees is written down in the same transaction. */
export async function release(pool: pg.Pool, who: journal.Who, write: ReleaseWrite): Promise<Released> {
  return transaction(pool, async (db) => {
    const { book, assessment, enrolments, replay } = await begin(db, who, write);
    if (replay) return replay;
    const first = await journal.lockBook(db, who.school, who.book, enrolments.length);
    const cells = new Map(book.cells.filter((c) => c.assessment === assessment.id).map((c) => [c.enrolment, c]));
    const before = new Map(
      (await releases.releasedTo(db, who.school, who.book, enrolments)).map((r) => [
        `${r.assessment} ${r.enrolment}`,
        r.entry,
      ]),
    );
    await releases.writeReleased(db, {
      school: who.school,
      book: who.book,
      assessment: assessment.id,
      at: book.document.asOf,
      by: who.person,
      cells: enrolments.map((enrolment) => {
        const cell = cells.get(enrolment);
        return { enrolment, entry: canonical(cell?.content ?? {}), version: cell?.version ?? 0 };
      }),
    });
    await writeDown(db, who, book, enrolments, write.moveRules);
    await journal.writeLines(
      db,
      who,
      first,
      enrolments.map((enrolment, i) => {
        const was = before.get(`${assessment.id} ${enrolment}`);
        return {
          operation: i === 0 ? write.operation : `${write.operation}.${i}`,
          kind: 'release' as const,
          assessment: assessment.id,
          enrolment,
          was: was === undefined ? null : canonical(was),
          becomes: canonical(cells.get(enrolment)?.content ?? {}),
        };
      }),
    );
    return { people: enrolments.length, seq: first + enrolments.length - 1 };
  });
}

/** Hides an assessment again at once. Those who never had it are left alone. */
export async function withdraw(pool: pg.Pool, who: journal.Who, write: WithdrawWrite): Promise<Released> {
  return transaction(pool, async (db) => {
    const { book, assessment, enrolments, replay } = await begin(db, who, write);
    if (replay) return replay;
    const had = await releases.releasedTo(db, who.school, who.book, enrolments);
    const gone = await releases.withdraw(db, who.school, who.book, assessment.id, enrolments, book.document.asOf);
    if (gone.length === 0)
      throw new Refusal(
        'bad-request',
        `${assessment.title} is not released to any of these students, so there was nothing to withdraw.`,
      );
    const first = await journal.lockBook(db, who.school, who.book, gone.length);
    await writeDown(db, who, book, gone, false);
    await journal.writeLines(
      db,
      who,
      first,
      gone.map((enrolment, i) => ({
        operation: i === 0 ? write.operation : `${write.operation}.${i}`,
        kind: 'withdraw' as const,
        assessment: assessment.id,
        enrolment,
        was: canonical(had.find((h) => h.assessment === assessment.id && h.enrolment === enrolment)!.entry),
        becomes: null,
      })),
    );
    return { people: gone.length, seq: first + gone.length - 1 };
  });
}

async function begin(
  db: Db,
  who: journal.Who,
  write: { operation: string; assessment: string; enrolments: string[] | null },
): Promise<{
  book: AssembledBook;
  assessment: AssessmentRow;
  enrolments: string[];
  replay: Released | null;
}> {
  // The lock first, so that what is read is what is released.
  await journal.holdBook(db, who.school, who.book);
  const book = await assemble(db, who.school, who.book);
  const assessment = book.assessments.find((a) => a.id === write.assessment);
  if (!assessment) throw new Refusal('not-found', 'There is no such assessment in this book.');
  const here = new Set(book.students.map((s) => s.id));
  const enrolments = [...new Set(write.enrolments ?? here)];
  const strangers = enrolments.filter((e) => !here.has(e));
  if (strangers.length > 0)
    throw new Refusal(
      'bad-request',
      `${strangers.length} of these students are not in this book. Nothing was changed.`,
    );
  if (enrolments.length === 0) throw new Refusal('bad-request', 'There is nobody in this book yet.');
  const done = await journal.operationDone(db, who.school, who.book, write.operation);
  if (done !== null) return { book, assessment, enrolments, replay: { people: enrolments.length, seq: book.row.seq } };
  return { book, assessment, enrolments, replay: null };
}

/** Works out and writes down what each of these students sees from now on (contract, section 11). */
async function writeDown(
  db: Db,
  who: journal.Who,
  book: AssembledBook,
  enrolments: string[],
  moveRules: boolean,
): Promise<void> {
  const kept = await releases.skeletonsOf(db, who.school, who.book, enrolments);
  const released = group(await releases.releasedTo(db, who.school, who.book, enrolments), (r) => r.enrolment);
  const live = group(book.cells, (c) => c.enrolment);
  const visible = new Set(book.assessments.filter((a) => a.shown).map((a) => a.id));
  const takesWork = new Set(book.assessments.filter((a) => a.takesWork).map((a) => a.id));
  const titles = titlesOf(book.assessments);
  const students = new Map(book.students.map((s) => [s.id, s]));
  const ids = new Map<string, string>();
  const slips = [];
  for (const enrolment of enrolments) {
    const had = kept.get(enrolment);
    const skeleton = had && !moveRules ? withNewItems(had.skeleton, book.skeleton, visible) : book.skeleton;
    const text = canonical(skeleton);
    let id = ids.get(text);
    if (!id) {
      id = createHash('sha256').update(text).digest('hex').slice(0, 40);
      ids.set(text, id);
      const rulesVersion = had && !moveRules ? had.rulesVersion : book.row.rulesVersion;
      await releases.keepSkeleton(db, { school: who.school, book: who.book, id, text, rulesVersion });
    }
    const own = released.get(enrolment) ?? [];
    const document = studentDocument({
      student: toDocumentStudent(students.get(enrolment)!),
      asOf: book.document.asOf,
      skeleton,
      visible,
      takesWork,
      released: new Map(own.map((r): [string, EntryContent] => [r.assessment, r.entry])),
      live: new Map(
        (live.get(enrolment) ?? []).map((c) => [c.assessment, { content: c.content, handedIn: c.handedIn }]),
      ),
    });
    slips.push({ enrolment, skeleton: id, body: canonical(slipBody(document, own, titles, skeleton)) });
  }
  await releases.writeSlips(db, who.school, who.book, book.document.asOf, slips);
}

/** An earlier released skeleton with the items that have come since, as they are now, in their categories. */
export function withNewItems(released: Skeleton, today: Skeleton, visible: ReadonlySet<string>): Skeleton {
  const has = new Set(itemsOf(released.tree).map((i) => i.id));
  const places = new Set(groupsOf(released.tree).map((g) => g.id));
  const fresh: { category: string; item: Item }[] = [];
  for (const g of groupsOf(today.tree))
    for (const child of g.children)
      if (child.type === 'item' && !has.has(child.id) && visible.has(child.id))
        fresh.push({ category: places.has(g.id) ? g.id : released.tree.id, item: child });
  if (fresh.length === 0) return released;
  const fill = (g: Group): Group => ({
    ...g,
    children: [
      ...g.children.map((c): Node => (c.type === 'group' ? fill(c) : c)),
      ...fresh.filter((f) => f.category === g.id).map((f) => f.item),
    ],
  });
  // Rules that a new item names and the released version does not have come with it.
  const rules = { ...released.rules };
  for (const kind of ['late', 'blank', 'marks'] as const)
    rules[kind] = { ...today.rules?.[kind], ...released.rules?.[kind] } as never;
  return { ...released, rules, tree: fill(released.tree) };
}

export const titlesOf = (assessments: AssessmentRow[]): Map<string, string> =>
  new Map(assessments.map((a) => [a.id, a.title]));

/** What a student reads of their document: figures and their working, as text. */
export function slipBody(
  document: BookDocument,
  released: releases.ReleasedEntry[],
  titles: Map<string, string>,
  skeleton: Skeleton,
): SlipBody {
  const compiled = compileBook(document);
  const outcome = workOutStudent(compiled, 0);
  const categories = new Map(groupsOf(skeleton.tree).map((g) => [g.id, titleOf(g)]));
  const words = { timeZone: document.timeZone, name: (id: string) => titles.get(id) ?? categories.get(id) ?? id };
  const byItem = new Map(released.map((r) => [r.assessment, r]));
  return {
    asOf: document.asOf,
    timeZone: document.timeZone,
    result: studentResult(compiled, outcome),
    items: compiled.items.map((item) => {
      const r = byItem.get(item.id);
      return {
        id: item.id,
        title: words.name(item.id),
        points: item.source.points,
        released: r ? { at: r.releasedAt, by: personName({ ...r.by, role: 'staff' }) } : null,
        lines: r ? sentences(explainItem(compiled, outcome, item), words) : [],
      };
    }),
    standing: sentences(explainStanding(compiled, outcome), words),
    scale: (compiled.scale?.labels ?? []).map((label, i) => ({ label, from: compiled.scale!.from[i]! / 10_000 })),
  };
}

/** The title of a category: kept in its `info`, which the calculation does not read. */
export const titleOf = (g: Group): string => {
  const info = g.info as { title?: unknown } | undefined;
  return typeof info?.title === 'string' ? info.title : g.id;
};

function group<T>(rows: readonly T[], key: (row: T) => string): Map<string, T[]> {
  const out = new Map<string, T[]>();
  for (const row of rows) {
    const list = out.get(key(row));
    if (list) list.push(row);
    else out.set(key(row), [row]);
  }
  return out;
}
