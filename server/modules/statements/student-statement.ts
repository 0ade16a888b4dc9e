import { CALCULATION_VERSION } from '@core/calculation/repairs';
import type { BookTransaction } from '../../kernel/book-transaction';
import { cellKeyOf } from '../../kernel/cells/cell';
import { createHash } from 'node:crypto';
import { groupBy } from '../../kernel/group-by';
import { Breathing } from '../../kernel/breathing';
import { canonical } from '@core/book/canonical';
import type { Skeleton } from '@core/book/assemble';
import { groupsOf, itemsOf, type BookDocument, type Group, type Item, type Node } from '@core/book/document';
import type { EntryContent } from '@core/book/change';
import { studentDocument } from '@core/book/student-document';
import { compileBook, compileLike, type CompiledBook, type CompiledItem } from '@core/calculation/compiled/compile';
import { workOutStudent } from '@core/calculation/final';
import { studentResult } from '@core/calculation/result';
import { explainItem } from '@core/working/explain-item';
import { explainStanding } from '@core/working/explain-standing';
import { slipSum } from '@core/working/slip-sum';
import { sentences } from '@core/working/sentences';
import type { Db } from '../../kernel/database';
import { personName } from '../accounts';
import { type AssembledBook, type AssessmentRow, toDocumentStudent } from '../books';
import { type ReleasedEntry, skeletonsOf, releasedTo, insertSkeleton, insertStatements } from './sql/releases';
import type { StatementBody, StatementItem } from '@contract/statements';

/** The figures of a slip that a student may be told have changed. */
export interface StatementStanding {
  percent: string | null;
  letter: string | null;
}

/** What one student will read, and the rules by which it was worked out. */
export interface WorkedStatement {
  enrolment: string;
  body: StatementBody;
  text: string;
  skeleton: { id: string; text: string; rulesVersion: number };
  /**
   * Where the rules of an earlier release give way to today's: which they were, and what the same released work comes to
   * by them. Null where the rules are those of before, or there was none before.
   */
  moved: { rulesVersion: number; before: StatementStanding } | null;
}

export const standingOf = ({ result }: StatementBody): StatementStanding => ({
  percent: result.percent,
  letter: result.letter,
});

/**
 * Works out what each of these students would see (contract, section 11), writing nothing. `fresh`: what is being
 * released to them now, in place of what was released of it before.
 */
export async function workOutStatements(
  db: Db,
  who: { school: string; book: string },
  book: AssembledBook,
  enrolments: string[],
  moveRules: boolean,
  fresh: readonly ReleasedEntry[] = [],
): Promise<WorkedStatement[]> {
  const kept = await skeletonsOf(db, who.school, who.book, enrolments);
  const isFresh = new Set(fresh.map((r) => cellKeyOf(r)));
  const before = (await releasedTo(db, who.school, who.book, enrolments)).filter((r) => !isFresh.has(cellKeyOf(r)));
  const released = groupBy([...before, ...fresh], (r) => r.enrolment);
  const live = groupBy(book.cells, (c) => c.enrolment);
  const visible = new Set(book.assessments.filter((a) => a.shown).map((a) => a.id));
  const takesWork = new Set(book.assessments.filter((a) => a.takesWork).map((a) => a.id));
  const titles = titlesOf(book.assessments);
  const hidden = new Set(book.assessments.filter((a) => a.work.markersHidden).map((a) => a.id));
  const students = new Map(book.students.map((s) => [s.id, s]));
  const ids = new Map<string, string>();
  const idOf = (text: string): string => {
    const id = ids.get(text) ?? createHash('sha256').update(text).digest('hex').slice(0, 40);
    ids.set(text, id);
    return id;
  };
  // Students share a few skeletons: each is gone through once.
  const textOf = remembered((skeleton: Skeleton) => canonical(skeleton));
  const sinceThen = remembered((skeleton: Skeleton) => withNewItems(skeleton, book.skeleton, visible));
  const workOut = (enrolment: string): WorkedStatement => {
    const had = kept.get(enrolment);
    const own = released.get(enrolment) ?? [];
    const cells = live.get(enrolment) ?? [];
    const bodyBy = (skeleton: Skeleton): StatementBody => {
      const document = studentDocument({
        student: toDocumentStudent(students.get(enrolment)!),
        asOf: book.document.asOf,
        skeleton,
        visible,
        takesWork,
        released: new Map(own.map((r): [string, EntryContent] => [r.assessment, r.entry])),
        live: new Map(cells.map((c) => [c.assessment, { content: c.content, handedIn: c.handedIn }])),
      });
      return statementBody(document, own, titles, skeleton, hidden);
    };
    const asBefore = had ? sinceThen(had.skeleton) : null;
    const stays = asBefore !== null && !moveRules;
    const skeleton = stays ? asBefore : book.skeleton;
    const text = textOf(skeleton);
    const body = bodyBy(skeleton);
    const moves = had !== undefined && moveRules && textOf(asBefore!) !== text;
    return {
      enrolment,
      body,
      text: canonical(body),
      skeleton: { id: idOf(text), text, rulesVersion: stays ? had!.rulesVersion : book.row.rulesVersion },
      moved: moves ? { rulesVersion: had.rulesVersion, before: standingOf(bodyBy(asBefore!)) } : null,
    };
  };
  const breathing = new Breathing();
  const worked: WorkedStatement[] = [];
  for (const enrolment of enrolments) {
    worked.push(workOut(enrolment));
    await breathing.pause();
  }
  return worked;
}

/** A function that answers for the same object once. */
function remembered<K extends object, V>(work: (key: K) => V): (key: K) => V {
  const known = new Map<K, V>();
  return (key) => {
    let value = known.get(key);
    if (value === undefined) known.set(key, (value = work(key)));
    return value;
  };
}

/** Writes slips down: from now on they are what is read. */
export async function writeStatements(
  db: BookTransaction,
  who: { school: string; book: string },
  at: string,
  slips: readonly WorkedStatement[],
): Promise<void> {
  const skeletons = new Map(slips.map((s) => [s.skeleton.id, s.skeleton]));
  for (const s of skeletons.values()) await insertSkeleton(db, { school: who.school, book: who.book, ...s });
  await insertStatements(
    db,
    who.school,
    who.book,
    at,
    slips.map((s) => ({ enrolment: s.enrolment, skeleton: s.skeleton.id, body: s.text })),
  );
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

/** The tree of a class is compiled once: its students' documents share it. */
const compiledTrees = new WeakMap<Group, CompiledBook>();

function compileShared(document: BookDocument): CompiledBook {
  const like = compiledTrees.get(document.tree);
  if (like && like.book.rules === document.rules) return compileLike(like, document);
  const compiled = compileBook(document);
  compiledTrees.set(document.tree, compiled);
  return compiled;
}

/** What a student reads of their document: figures and their working, as text. `hidden`: assessments whose markers are not named. */
export function statementBody(
  document: BookDocument,
  released: ReleasedEntry[],
  titles: Map<string, string>,
  skeleton: Skeleton,
  hidden: ReadonlySet<string> = new Set(),
): StatementBody {
  const compiled = compileShared(document);
  const outcome = workOutStudent(compiled, 0);
  const categories = new Map(groupsOf(skeleton.tree).map((g) => [g.id, titleOf(g)]));
  const words = { timeZone: document.timeZone, name: (id: string) => titles.get(id) ?? categories.get(id) ?? id };
  const byItem = new Map(released.map((r) => [r.assessment, r]));
  return {
    asOf: document.asOf,
    timeZone: document.timeZone,
    result: studentResult(compiled, outcome),
    info: { calculation: CALCULATION_VERSION },
    ...(document.shown?.label !== undefined && { shownLabel: document.shown.label }),
    items: compiled.items.map((item) => {
      const r = byItem.get(item.id);
      return {
        id: item.id,
        title: words.name(item.id),
        points: item.source.points,
        released: r
          ? { at: r.releasedAt, by: hidden.has(item.id) ? '' : personName({ ...r.by, role: 'staff' }) }
          : null,
        lines: r ? sentences(explainItem(compiled, outcome, item), words) : [],
        ...(r && sumOf(compiled, outcome.index, item, r)),
      };
    }),
    standing: sentences(explainStanding(compiled, outcome), words),
    scale: (outcome.variant.scale?.labels ?? []).map((label, i) => ({
      label,
      from: outcome.variant.scale!.from[i]! / 10_000,
    })),
  };
}

function sumOf(
  compiled: CompiledBook,
  student: number,
  item: CompiledItem,
  released: ReleasedEntry,
): Pick<StatementItem, 'sum' | 'receivedAt'> {
  const sum = slipSum(compiled, student, item);
  const receivedAt = released.entry.attempts?.[(sum?.attempt ?? released.entry.attempts.length) - 1]?.receivedAt;
  return { ...(sum && { sum }), ...(receivedAt !== undefined && { receivedAt }) };
}

/** The title of a category: kept in its `info`, which the calculation does not read. */
export const titleOf = (g: Group): string => {
  const info = g.info as { title?: unknown } | undefined;
  return typeof info?.title === 'string' ? info.title : g.id;
};
