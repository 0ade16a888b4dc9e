import type { Group, Node } from '../book/document';

/** The JSON pointer of every node of a tree, by id. */
export function pointersOf(tree: Group): Map<string, string> {
  const out = new Map<string, string>();
  const walk = (node: Node, at: string): void => {
    out.set(node.id, at);
    if (node.type === 'group') node.children.forEach((c, i) => walk(c, `${at}/children/${i}`));
  };
  walk(tree, '/tree');
  return out;
}

const escape = (name: string): string => name.replaceAll('~', '~0').replaceAll('/', '~1');
export const rulePointer = (set: string, name: string): string => `/rules/${set}/${escape(name)}`;
