import type { RuleNames } from './check-rules';
import { known, type TreeNames } from './check-tree';
import { pointer, type Problems } from './problems';
import { has, isObject, list, number, object } from './shapes';

/** Section 5.3. Gives the names of the variants. `root`: the id of the whole tree. */
export function checkVariants(p: Problems, v: unknown, tree: TreeNames, rules: RuleNames, root: unknown): Set<string> {
  const names = new Set<string>();
  if (v === undefined) return names;
  if (!isObject(v)) {
    object(p, '/variants', v, []);
    return names;
  }
  for (const [name, variant] of Object.entries(v)) {
    if (name === 'info') continue;
    names.add(name);
    const at = pointer('/variants', name);
    if (!object(p, at, variant, ['weights', 'leftOut', 'scale'])) continue;
    if (has(variant, 'scale') && variant['scale'] !== null)
      known(p, pointer(at, 'scale'), variant['scale'], rules.scales, 'scale');
    if (has(variant, 'weights')) checkWeights(p, pointer(at, 'weights'), variant['weights'], tree);
    const where = pointer(at, 'leftOut');
    if (!has(variant, 'leftOut') || !list(p, where, variant['leftOut'])) continue;
    variant['leftOut'].forEach((node, i) => {
      const here = pointer(where, i);
      if (known(p, here, node, tree.ids, 'group or item') && node === root)
        p.add(here, 'The whole tree cannot be left out.');
    });
  }
  return names;
}

function checkWeights(p: Problems, at: string, v: unknown, tree: TreeNames): void {
  if (!isObject(v)) {
    object(p, at, v, []);
    return;
  }
  for (const [node, weight] of Object.entries(v)) {
    if (node === 'info') continue;
    if (!tree.ids.has(node)) p.add(pointer(at, node), `There is no group or item named "${node.slice(0, 80)}".`);
    else number(p, pointer(at, node), weight);
  }
}
