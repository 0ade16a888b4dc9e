import type { TreeNames } from './check-tree';
import { isOwnKind } from './check-group-rules';
import { pointer, type Problems } from './problems';
import { boolean, has, id, line, number, type Json } from './shapes';

/**
 * Nodes that alsos may lead through one after the other. The contract sets no bound, but each is a step deeper of the
 * working out (decision 006).
 */
export const LONGEST_CHAIN = 2000;

/** One also by itself (section 5.2); what it refers to is looked at once the whole tree is known. */
export function checkAlso(p: Problems, at: string, v: Json, names: TreeNames, parent: Json | null): void {
  if (has(v, 'points')) number(p, pointer(at, 'points'), v['points'], { above: 0 });
  const stands = has(v, 'standsIn') && boolean(p, pointer(at, 'standsIn'), v['standsIn']) && v['standsIn'];
  if (stands && v['extraCredit'] === true) p.add(at, 'What stands in for others is no extra credit.');
  else if (stands && v['alwaysKept'] === true) p.add(at, 'What stands in for others cannot always be kept.');
  else if (stands && parent !== null && isOwnKind(parent))
    p.add(pointer(at, 'standsIn'), `In a group that is "${String(parent['combine'])}" nothing stands in for others.`);
  if (['through', 'from', 'reaching'].filter((key) => has(v, key)).length > 1)
    p.add(at, 'It has at most one of "through", "from" and "reaching".');
  if (has(v, 'through')) line(p, pointer(at, 'through'), v['through']);
  for (const key of ['from', 'reaching']) if (has(v, key)) number(p, pointer(at, key), v[key]);
  const above = typeof parent?.['id'] === 'string' ? parent['id'] : null;
  if (has(v, 'of')) {
    if (above !== null) names.groups.get(above)?.alsos.push(names.alsos.length);
    names.alsos.push({
      at,
      id: typeof v['id'] === 'string' ? v['id'] : '',
      of: v['of'],
      parent: above,
      reaching: has(v, 'reaching'),
    });
  }
}

/** What alsos count: it is there, may be counted again, and leads to no circle. */
export function checkAlsos(p: Problems, names: TreeNames): void {
  if (names.alsos.length === 0) return;
  const ids = new Set(names.alsos.map((a) => a.id));
  const said = new Set<number>();
  names.alsos.forEach((also, i) => {
    const at = pointer(also.at, 'of');
    const say = (says: string): void => {
      said.add(i);
      p.add(at, says);
    };
    if (!id(p, at, also.of)) return;
    const item = names.items.get(also.of);
    if (ids.has(also.of)) say('What is counted again is an item or a group, not another that is counted again.');
    else if (item !== undefined) {
      if (item.points === 0) say('An item of 0 points cannot be counted again.');
      if (also.reaching) p.add(pointer(also.at, 'reaching'), 'How many reach a percentage is asked of a group.');
    } else if (!names.groups.has(also.of)) say(`There is no group or item named "${also.of.slice(0, 80)}".`);
    else if (isAbove(names, also.of, also.parent)) say('A group cannot count itself again.');
  });
  const { circles, longest } = followAlsos(names);
  for (const circle of circles) {
    const path = [...circle, circle[0]!].map((i) => names.alsos[i]!.id).join(' → ');
    for (const i of circle)
      if (!said.has(i)) {
        said.add(i);
        p.add(pointer(names.alsos[i]!.at, 'of'), `Counted again, this leads round in a circle: ${path}.`);
      }
  }
  if (longest > LONGEST_CHAIN)
    p.add(
      '/tree',
      `What is counted again leads through ${longest} groups, one after the other: at most ${LONGEST_CHAIN}.`,
    );
}

function isAbove(names: TreeNames, group: string, from: string | null): boolean {
  for (let at = from; at !== null; at = names.groups.get(at)?.parent ?? null) if (at === group) return true;
  return false;
}

/**
 * The circles that alsos lead round in (an also to the group it counts, a group to each of its children), as the numbers
 * of the alsos on each, and the longest way that is none. Tarjan's strongly connected components, without recursion.
 */
function followAlsos(names: TreeNames): { circles: number[][]; longest: number } {
  const groupIds = [...names.groups.keys()];
  const groupNumbers = new Map(groupIds.map((g, i) => [g, i]));
  const G = groupIds.length;
  const total = G + names.alsos.length;
  const next = (v: number): number[] => {
    if (v >= G) {
      const of = groupNumbers.get(names.alsos[v - G]!.of as string);
      return of === undefined ? [] : [of];
    }
    const facts = names.groups.get(groupIds[v]!)!;
    return [...facts.groups.map((g) => groupNumbers.get(g)!), ...facts.alsos.map((a) => G + a)];
  };
  const index = new Int32Array(total).fill(-1);
  const low = new Int32Array(total);
  const isOnStack = new Uint8Array(total);
  const depth = new Int32Array(total);
  const stack: number[] = [];
  const circles: number[][] = [];
  let counter = 0;
  let longest = 0;
  for (let root = 0; root < total; root++) {
    if (index[root] !== -1) continue;
    const work: { v: number; to: number[]; at: number }[] = [];
    const open = (v: number): void => {
      index[v] = low[v] = counter++;
      stack.push(v);
      isOnStack[v] = 1;
      depth[v] = 1;
      work.push({ v, to: next(v), at: 0 });
    };
    open(root);
    while (work.length > 0) {
      const top = work[work.length - 1]!;
      if (top.at < top.to.length) {
        const w = top.to[top.at++]!;
        if (index[w] === -1) open(w);
        else {
          if (isOnStack[w] === 1) low[top.v] = Math.min(low[top.v]!, index[w]!);
          depth[top.v] = Math.max(depth[top.v]!, depth[w]! + 1);
        }
        continue;
      }
      work.pop();
      const above = work[work.length - 1];
      if (above) {
        low[above.v] = Math.min(low[above.v]!, low[top.v]!);
        depth[above.v] = Math.max(depth[above.v]!, depth[top.v]! + 1);
      }
      longest = Math.max(longest, depth[top.v]!);
      if (low[top.v] !== index[top.v]) continue;
      const component: number[] = [];
      for (;;) {
        const w = stack.pop()!;
        isOnStack[w] = 0;
        component.push(w);
        if (w === top.v) break;
      }
      if (component.length > 1) circles.push(component.filter((w) => w >= G).map((w) => w - G).sort((a, b) => a - b)); // prettier-ignore
    }
  }
  return { circles, longest };
}
