import type { RulesPart } from './change';
import { alsosOf, groupsOf, type Group, type Hurdle, type Node, type Variant } from './document';

/** Where rules name a node besides its place in the tree. */
export type Mention = { kind: 'hurdle' } | { kind: 'counted-again'; group: string } | { kind: 'variant'; name: string };

const variantsOf = (rules: RulesPart): [string, Variant][] =>
  Object.entries(rules.variants ?? {}).filter(([name]) => name !== 'info');
const nodesOfHurdle = ({ node, capAt }: Hurdle): string[] =>
  typeof capAt === 'object' && capAt.node !== undefined ? [node, capAt.node] : [node];

/** Everything in the rules that would be of no use without a node: hurdles, what counts it again, variants. */
export function mentionsOf(rules: RulesPart, id: string): Mention[] {
  return [
    ...(rules.hurdles ?? []).filter((h) => nodesOfHurdle(h).includes(id)).map((): Mention => ({ kind: 'hurdle' })),
    ...groupsOf(rules.tree).flatMap((g) =>
      g.children.flatMap((c): Mention[] =>
        c.type === 'also' && c.of === id ? [{ kind: 'counted-again', group: g.id }] : [],
      ),
    ),
    ...variantsOf(rules)
      .filter(([, v]) => v.leftOut?.includes(id) || Object.hasOwn(v.weights ?? {}, id))
      .map(([name]): Mention => ({ kind: 'variant', name })),
  ];
}

/** The rules without anything that names a node which they do not hold themselves: an assessment of another book. */
export function withoutItems(rules: RulesPart): RulesPart {
  const groups = new Set(groupsOf(rules.tree).map((g) => g.id));
  const kept = (g: Group): Group => ({
    ...g,
    children: g.children.flatMap((c): Node[] => {
      if (c.type === 'group') return [kept(c)];
      return c.type === 'also' && groups.has(c.of) ? [c] : [];
    }),
  });
  const tree = kept(rules.tree);
  const ids = new Set([...groups, ...alsosOf(tree).map((a) => a.id)]);
  const variants = variantsOf(rules).map(([name, { weights, leftOut, ...rest }]): [string, Variant] => [
    name,
    {
      ...rest,
      ...(weights && { weights: Object.fromEntries(Object.entries(weights).filter(([id]) => ids.has(id))) }),
      ...(leftOut && { leftOut: leftOut.filter((id) => ids.has(id)) }),
    },
  ]);
  return {
    ...rules,
    tree,
    ...(rules.hurdles && { hurdles: rules.hurdles.filter((h) => nodesOfHurdle(h).every((id) => ids.has(id))) }),
    ...(rules.variants && { variants: Object.fromEntries(variants) }),
  };
}
