import type { Also, BookDocument, Group, Item } from '../../book/document';
import { fromNumber, multiply, percent, type Fraction } from '../../exact/fraction';
import { exactLine } from '../../exact/line';
import { parseMoment } from '../../time/moment';
import type { CompiledAlso, CompiledCommon, CompiledGroup, CompiledItem, CompiledNode } from './compiled';
import { compileLate, type CompiledLate } from '../cells/lateness';
import { compileThen } from '../then';
import type { TreeParts } from './variants';

interface Above {
  late: string | null;
  blank: string;
  optional: boolean;
  parent: CompiledGroup | null;
}

/** Every node of a checked document's tree, with its rules resolved. */
export function compileNodes(book: BookDocument): TreeParts {
  const lates = new Map(
    Object.entries(book.rules?.late ?? {}).flatMap(([n, r]) => (n === 'info' ? [] : [[n, compileLate(r)] as const])),
  );
  const counts = new Set((book.hurdles ?? []).flatMap((h) => (h.over === undefined ? [] : [h.node])));
  const items: CompiledItem[] = [];
  const groups: CompiledGroup[] = [];
  const alsos: CompiledAlso[] = [];
  const nodes = new Map<string, CompiledNode>();

  const walk = (node: Group | Item | Also, above: Above): CompiledNode => {
    const common = {
      id: node.id,
      parent: above.parent,
      weight: fromNumber(node.weight ?? 1),
      extraCredit: node.extraCredit === true,
      alwaysKept: node.alwaysKept === true,
      optional: above.optional || node.extraCredit === true,
    };
    if (node.type === 'also') {
      const also = compileAlso(node, common, alsos.length);
      alsos.push(also);
      nodes.set(also.id, also);
      return also;
    }
    const late = node.late === undefined ? above.late : node.late;
    const blank = node.blank ?? above.blank;
    if (node.type === 'item') {
      const item = compileItem(book, node, common, { index: items.length, late, blank, lates, counts });
      items.push(item);
      nodes.set(item.id, item);
      item.late?.bank?.items.push(item);
      return item;
    }
    const group = compileGroup(node, common, groups.length);
    groups.push(group);
    nodes.set(group.id, group);
    const below = { late, blank, optional: common.optional, parent: group };
    group.children = node.children.map((child) => walk(child, below));
    if (group.extraCredit) group.pieces = piecesOf(group);
    return group;
  };
  const root = walk(book.tree, {
    late: book.late ?? null,
    blank: book.blank,
    optional: false,
    parent: null,
  }) as CompiledGroup;
  // What an also counts may come after it.
  for (const also of alsos) also.of = nodes.get(also.source.of) as CompiledItem | CompiledGroup;
  return { root, items, groups, alsos, nodes };
}

/** A percent of a document as a share of one; null where there is none. */
const share = (p: number | null | undefined): Fraction | null => (p === undefined || p === null ? null : percent(p));

function compileGroup(node: Group, common: CompiledCommon, index: number): CompiledGroup {
  return {
    ...common,
    type: 'group',
    index,
    source: node,
    children: [],
    then: compileThen(node.then),
    cap: share(node.cap),
    floor: share(node.floor),
    extraAtMost: share(node.extraAtMost),
    newest: share(node.newest),
    pieces: [],
  };
}

/** Of an extra-credit group: the items that count and are not extra credit, nor under extra credit, within it. */
function piecesOf(group: CompiledGroup): CompiledItem[] {
  return group.children.flatMap((c) => {
    if (c.type === 'also' || c.extraCredit) return [];
    return c.type === 'group' ? piecesOf(c) : c.counts ? [c] : [];
  });
}

function compileAlso(node: Also, common: CompiledCommon, index: number): CompiledAlso {
  return {
    ...common,
    type: 'also',
    index,
    source: node,
    of: null!,
    points: node.points === undefined ? null : fromNumber(node.points),
    standsIn: node.standsIn === true,
    through: node.through === undefined ? null : exactLine(node.through),
    from: share(node.from),
    reaching: share(node.reaching),
  };
}

const moment = (text: string | undefined): number | null => (text === undefined ? null : parseMoment(text));

function compileItem(
  book: BookDocument,
  node: Item,
  common: CompiledCommon,
  place: {
    index: number;
    late: string | null;
    blank: string;
    lates: Map<string, CompiledLate>;
    counts: ReadonlySet<string>;
  },
): CompiledItem {
  const blank = book.rules!.blank![place.blank]!;
  const points = fromNumber(node.points);
  const sections = Object.entries(node.sectionDates ?? {}).filter(([section]) => section !== 'info');
  const isCount = place.counts.has(node.id);
  return {
    ...common,
    type: 'item',
    index: place.index,
    source: node,
    points,
    counts: node.counts !== false,
    isCount,
    late: place.late === null ? null : place.lates.get(place.late)!,
    lateName: place.late,
    blank,
    blankName: place.blank,
    afterDue:
      common.optional || isCount || blank.afterDue === 'skip'
        ? null
        : multiply(percent(blank.afterDue.percent), points),
    due: moment(node.due),
    closes: moment(node.closes),
    sectionDates:
      sections.length === 0
        ? null
        : new Map(sections.map(([section, d]) => [section, { due: moment(d.due), closes: moment(d.closes) }])),
    marks: node.marks ? new Map(book.rules!.marks![node.marks]!.map((m) => [m.label, percent(m.percent)])) : null,
  };
}
