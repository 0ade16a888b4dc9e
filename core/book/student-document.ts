import type { EntryContent } from './change';
import { assembleBook, type Skeleton } from './assemble';
import {
  alsosOf,
  groupsOf,
  itemsOf,
  type Attempt,
  type BookDocument,
  type Entry,
  type Group,
  type Item,
  type Node,
  type Override,
  type Student,
  type Variant,
} from './document';

/** What a student has on one item, as staff see it now. */
export interface LiveEntry {
  content: EntryContent;
  /** For each attempt: did the student hand it in through the application? */
  handedIn: boolean[];
}

export interface StudentFacts {
  student: Student;
  asOf: string;
  /** The released rules version of this student with its items. */
  skeleton: Skeleton;
  /** Items that students can see. */
  visible: ReadonlySet<string>;
  /** Items to which something is handed in through the application. */
  takesWork: ReadonlySet<string>;
  /** Item id → the entry as it was when it was released to this student. */
  released: ReadonlyMap<string, EntryContent>;
  /** Item id → the entry as it is now. */
  live: ReadonlyMap<string, LiveEntry>;
  /** The override of their final grade, once it is released to them. */
  override?: Override;
}

/**
 * The student's document (contract, section 11): made from what is released to one student and from nothing else.
 * Whatever else is in the facts changes not a byte of it.
 */
export function studentDocument(facts: StudentFacts): BookDocument {
  const { student } = facts;
  const own = ownSkeleton(facts.skeleton, facts.visible);
  const entries: Entry[] = [];
  const banked = itemsWithBank(own);
  for (const item of itemsOf(own.tree)) {
    const released = facts.released.get(item.id);
    const isBanked = banked.has(item.id);
    const content = released ?? unreleased(facts.live.get(item.id), facts.takesWork.has(item.id), isBanked);
    if (Object.keys(content).length > 0) entries.push({ student: student.id, item: item.id, ...content });
  }
  const document = assembleBook(own, facts.asOf, [withoutInfo(student)], withoutInfo(entries));
  if (facts.override) document.overrides = [withoutInfo(facts.override)];
  return document;
}

/** Of each skeleton what students see of it, for the last set of visible items: a class shares it. */
const ownSkeletons = new WeakMap<Skeleton, { visible: ReadonlySet<string>; own: Skeleton }>();

function ownSkeleton(skeleton: Skeleton, visible: ReadonlySet<string>): Skeleton {
  const known = ownSkeletons.get(skeleton);
  if (known?.visible === visible) return known.own;
  const tree = visibleTree(skeleton.tree, visible);
  const ids = new Set([...itemsOf(tree), ...groupsOf(tree), ...alsosOf(tree)].map((n) => n.id));
  const hurdles = (skeleton.hurdles ?? []).filter(
    ({ node, capAt }) => ids.has(node) && !(typeof capAt === 'object' && capAt.node !== undefined && !ids.has(capAt.node)), // prettier-ignore
  );
  const own = withoutInfo({ ...skeleton, tree, hurdles });
  if (own.variants) own.variants = visibleVariants(own.variants, ids);
  ownSkeletons.set(skeleton, { visible, own });
  return own;
}

function visibleVariants(variants: Record<string, Variant>, ids: ReadonlySet<string>): Record<string, Variant> {
  const seen = ({ weights, leftOut, ...rest }: Variant): Variant => ({
    ...rest,
    ...(weights && { weights: Object.fromEntries(Object.entries(weights).filter(([id]) => ids.has(id))) }),
    ...(leftOut && { leftOut: leftOut.filter((id) => ids.has(id)) }),
  });
  return Object.fromEntries(Object.entries(variants).map(([name, v]) => [name, seen(v)]));
}

/** Items whose late rule has a bank: what came in late for one of them settles what the others get. */
function itemsWithBank({ tree, late, rules }: Skeleton): Set<string> {
  const out = new Set<string>();
  const walk = (node: Group | Item, above: string | null): void => {
    const name = node.late === undefined ? above : node.late;
    if (node.type === 'item') {
      if (name !== null && rules?.late?.[name]?.bank) out.add(node.id);
    } else for (const c of node.children) if (c.type !== 'also') walk(c, name);
  };
  walk(tree, late ?? null);
  return out;
}

/** Staff's own notes and titles stand in `info`, anywhere; a student gets none of them. */
function withoutInfo<T>(value: T): T {
  if (Array.isArray(value)) return value.map(withoutInfo) as T;
  if (typeof value !== 'object' || value === null) return value;
  const kept = Object.entries(value).filter(([key]) => key !== 'info');
  return Object.fromEntries(kept.map(([key, v]) => [key, withoutInfo(v as unknown)])) as T;
}

/** What a student may know of an item that is not released to them. */
function unreleased(live: LiveEntry | undefined, takesWork: boolean, isBanked: boolean): EntryContent {
  const now = live?.content ?? {};
  const out: EntryContent = {};
  if (now.state === 'excused') out.state = 'excused';
  else if (!takesWork) out.state = 'awaiting';
  if (now.dueAt !== undefined) out.dueAt = now.dueAt;
  if (now.closesAt !== undefined) out.closesAt = now.closesAt;
  if (now.lateAllowances !== undefined) out.lateAllowances = now.lateAllowances;
  if (!takesWork) return out;
  const attempts = (now.attempts ?? []).flatMap((a, i): Attempt[] =>
    live!.handedIn[i] && a.receivedAt !== undefined ? [arrival(a, isBanked)] : [],
  );
  if (attempts.length > 0) out.attempts = attempts;
  return out;
}

/** When work came, and where a bank looks at that, how late it is taken to be. */
function arrival({ receivedAt, onTime, lateUnits }: Attempt, isBanked: boolean): Attempt {
  if (!isBanked) return { receivedAt };
  return { receivedAt, ...(onTime !== undefined && { onTime }), ...(lateUnits !== undefined && { lateUnits }) };
}

/** Without items that students cannot see, and without what counts one of them again. */
function visibleTree(tree: Group, visible: ReadonlySet<string>): Group {
  const groups = new Set(groupsOf(tree).map((g) => g.id));
  const isSeen = (c: Node): boolean => (c.type === 'also' ? groups.has(c.of) || visible.has(c.of) : visible.has(c.id));
  const seen = (group: Group): Group => ({
    ...group,
    children: group.children.flatMap((c): Node[] => (c.type === 'group' ? [seen(c)] : isSeen(c) ? [c] : [])),
  });
  return seen(tree);
}
