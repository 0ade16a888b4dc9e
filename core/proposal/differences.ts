import { canonical } from '../book/canonical';
import { RULE_KEYS } from '../book/change';
import type { BookDocument, Entry, Group, Node, Override, Student } from '../book/document';

/**
 * One thing in which two books differ, small enough to be made alone: a named rule, a setting of the book, a setting
 * of one group or item, one entry, one student's own facts, one override; or the shape of the tree as a whole.
 * `was` or `is` undefined: the key is not there.
 */
export type Difference =
  | { kind: 'setting'; at: string; was: unknown; is: unknown }
  | { kind: 'rule'; set: 'late' | 'blank' | 'marks' | 'scales'; name: string; was: unknown; is: unknown }
  | { kind: 'node'; id: string; key: string; was: unknown; is: unknown }
  | { kind: 'tree'; added: string[]; removed: string[] }
  | { kind: 'student'; student: string; was: Student; is: Student }
  | { kind: 'entry'; student: string; item: string; was: Entry | null; is: Entry | null }
  | { kind: 'override'; student: string; was: Override | null; is: Override | null };

type RuleSetting = Exclude<(typeof RULE_KEYS)[number], 'rules' | 'tree'>;
/** Every rule that is neither named nor of the tree, and what else a book says of itself. */
const SETTINGS = [
  'timeZone',
  'asOf',
  ...RULE_KEYS.filter((key): key is RuleSetting => key !== 'rules' && key !== 'tree'),
] as const;
const SETS = ['late', 'blank', 'marks', 'scales'] as const;

const same = (a: unknown, b: unknown): boolean =>
  a === b || (a !== undefined && b !== undefined && canonical(a) === canonical(b));

/** Everything in which two checked books differ, rules before entries; `info` is no difference. */
export function differencesOf(before: BookDocument, after: BookDocument): Difference[] {
  return [
    ...SETTINGS.filter((key) => !same(before[key] ?? null, after[key] ?? null)).map((key): Difference => ({
      kind: 'setting',
      at: key,
      was: before[key],
      is: after[key],
    })),
    ...SETS.flatMap((set) => ruleDifferences(before, after, set)),
    ...treeDifferences(before.tree, after.tree),
    ...studentDifferences(before, after),
    ...entryDifferences(before, after),
    ...overrideDifferences(before, after),
  ];
}

function ruleDifferences(before: BookDocument, after: BookDocument, set: (typeof SETS)[number]): Difference[] {
  const was = (before.rules?.[set] ?? {}) as Record<string, unknown>;
  const is = (after.rules?.[set] ?? {}) as Record<string, unknown>;
  return [...new Set([...Object.keys(was), ...Object.keys(is)])]
    .filter((name) => name !== 'info' && !same(was[name], is[name]))
    .map((name) => ({ kind: 'rule', set, name, was: was[name] ?? null, is: is[name] ?? null }));
}

/** The tree without the settings of its nodes: what hangs where, and what kind each is. */
function shapeOf(node: Node): unknown {
  if (node.type === 'also') return [node.id, 'also', node.of];
  return node.type === 'item' ? [node.id] : [node.id, node.children.map(shapeOf)];
}

export function nodesById(tree: Group): Map<string, Node> {
  const out = new Map<string, Node>();
  const walk = (node: Node): void => {
    out.set(node.id, node);
    if (node.type === 'group') node.children.forEach(walk);
  };
  walk(tree);
  return out;
}

function treeDifferences(before: Group, after: Group): Difference[] {
  const was = nodesById(before);
  const is = nodesById(after);
  if (!same(shapeOf(before), shapeOf(after)))
    return [
      {
        kind: 'tree',
        added: [...is.keys()].filter((id) => !was.has(id)),
        removed: [...was.keys()].filter((id) => !is.has(id)),
      },
    ];
  return [...was].flatMap(([id, node]) => {
    const a = node as unknown as Record<string, unknown>;
    const b = is.get(id) as unknown as Record<string, unknown>;
    return [...new Set([...Object.keys(a), ...Object.keys(b)])]
      .filter((key) => key !== 'children' && key !== 'info' && !same(a[key], b[key]))
      .map((key): Difference => ({ kind: 'node', id, key, was: a[key], is: b[key] }));
  });
}

function studentDifferences(before: BookDocument, after: BookDocument): Difference[] {
  const was = new Map(before.students.map((s) => [s.id, s]));
  return after.students.flatMap((is): Difference[] => {
    const s = was.get(is.id);
    const differs =
      s &&
      (s.section !== is.section || (s.extraTimeHours ?? 0) !== (is.extraTimeHours ?? 0) || s.variant !== is.variant);
    return differs ? [{ kind: 'student', student: is.id, was: s, is }] : [];
  });
}

const keyOf = (e: Entry): string => `${e.student} ${e.item}`;
const bare = ({ info: _info, ...entry }: Entry): unknown => entry;

function entryDifferences(before: BookDocument, after: BookDocument): Difference[] {
  const was = new Map(before.entries.map((e) => [keyOf(e), e]));
  const out: Difference[] = [];
  for (const is of after.entries) {
    const e = was.get(keyOf(is));
    was.delete(keyOf(is));
    if (e === is || (e && same(bare(e), bare(is)))) continue;
    out.push({ kind: 'entry', student: is.student, item: is.item, was: e ?? null, is });
  }
  for (const e of was.values()) out.push({ kind: 'entry', student: e.student, item: e.item, was: e, is: null });
  return out;
}

function overrideDifferences(before: BookDocument, after: BookDocument): Difference[] {
  const was = new Map((before.overrides ?? []).map((o) => [o.student, o]));
  const is = new Map((after.overrides ?? []).map((o) => [o.student, o]));
  return [...new Set([...was.keys(), ...is.keys()])]
    .filter((student) => !same(was.get(student), is.get(student)))
    .map((student) => ({
      kind: 'override',
      student,
      was: was.get(student) ?? null,
      is: is.get(student) ?? null,
    }));
}
