import type {
  Attempt,
  BlankRule,
  BookDocument,
  Curve,
  Entry,
  Group,
  Item,
  LateRule,
  Node,
  Override,
  Student,
} from '../book/document';

/** A stream of random choices from a seed (mulberry32), the same on every machine. */
export class Choices {
  constructor(private seed: number) {}

  next(): number {
    this.seed = (this.seed + 0x6d2b79f5) | 0;
    let t = Math.imul(this.seed ^ (this.seed >>> 15), 1 | this.seed);
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
    return ((t ^ (t >>> 14)) >>> 0) / 4_294_967_296;
  }

  chance(p: number): boolean {
    return this.next() < p;
  }

  int(low: number, high: number): number {
    return low + Math.floor(this.next() * (high - low + 1));
  }

  pick<T>(list: readonly T[]): T {
    return list[this.int(0, list.length - 1)]!;
  }
}

const ZONES = ['Europe/Dublin', 'America/St_Johns', 'America/Sao_Paulo', 'Asia/Kathmandu', 'Pacific/Auckland', 'UTC'];
const BANDS = [
  [90, 80, 70, 60, 0],
  [50, 0],
  [79.95, 49.5, 0],
  [100, 66.6667, 33.3333, 0],
];

/**
 * A sound book that may hold anything the contract knows, in small: ties, edges and corners come often, because points,
 * scores and bounds are drawn from few values. The same seed gives the same book.
 */
export function randomBook(seed: number): BookDocument {
  const c = new Choices(seed);
  const rounding = { decimals: c.int(0, 4), mode: c.pick(['half-up', 'half-even', 'down'] as const) };
  const tree = randomTree(c);
  const nodes = allNodes(tree);
  const items = nodes.filter((n): n is Item => n.type === 'item');
  const students: Student[] = Array.from({ length: c.int(1, 4) }, (_, i) => ({
    id: `s${i}`,
    ...(c.chance(0.4) ? { section: c.pick(['north', 'south']) } : {}),
    ...(c.chance(0.2) ? { extraTimeHours: c.pick([24, 1.5, 0.0001, 36]) } : {}),
  }));
  const entries: Entry[] = [];
  for (const item of items)
    for (const student of students) if (c.chance(0.85)) entries.push(randomEntry(c, student.id, item));
  const hurdled = nodes.filter((n) => n.type !== 'item' || n.points > 0);
  const overrides: Override[] = students.flatMap((s) => (c.chance(0.12) ? [randomOverride(c, s.id)] : []));
  const bands = c.pick(BANDS);
  return {
    format: 'last-tally.book/1',
    timeZone: c.pick(ZONES),
    asOf: c.pick(['2027-01-15T12:00:00Z', '2026-10-30T12:00:00.5+01:00', '2027-06-01T00:00:00Z']),
    ...(c.chance(0.2) ? { closing: true } : {}),
    ...(c.chance(0.2) ? { lateAllowanceHours: c.pick([24, 12.25, 0]) } : {}),
    rules: {
      late: { one: randomLate(c), two: randomLate(c) },
      blank: { one: randomBlank(c), two: randomBlank(c) },
      marks: {
        verdicts: [
          { label: 'Pass', percent: 100 },
          { label: 'Near', percent: c.pick([33.3333, 50, 66.67]) },
          { label: 'Fail', percent: 0 },
        ],
      },
      scales: {
        letters: {
          bands: bands.map((from, i) => ({ label: 'ABCDE'[i]!, from })),
          ...(c.chance(0.5) ? { lookUp: c.pick(['rounded', 'exact'] as const) } : {}),
        },
      },
    },
    blank: c.pick(['one', 'two']),
    ...(c.chance(0.7) ? { late: c.pick(['one', 'two', null]) } : {}),
    ...(c.chance(0.8) ? { scale: c.pick(['letters', 'letters', null]) } : {}),
    rounding,
    tree,
    ...(c.chance(0.4)
      ? {
          hurdles: Array.from({ length: c.int(1, 3) }, () => ({
            node: c.pick(hurdled).id,
            atLeast: c.pick([0, 40, 50, 75, 100, 66.6667]),
            capAt: c.pick([39, 49.5, 0, 74.9999]),
          })),
        }
      : {}),
    students,
    entries,
    ...(overrides.length > 0 ? { overrides } : {}),
  };
}

function allNodes(node: Node): Node[] {
  return node.type === 'group' ? [node, ...node.children.flatMap(allNodes)] : [node];
}

function randomTree(c: Choices): Group {
  let count = 0;
  const group = (depth: number): Group => {
    const id = `g${count++}`;
    const combine = c.pick(['points', 'weights', 'equal'] as const);
    const size = depth === 0 ? c.int(1, 5) : c.int(c.chance(0.05) ? 0 : 1, 6);
    const children = Array.from({ length: size }, (): Node =>
      depth < 3 && c.chance(depth === 0 ? 0.6 : 0.2) ? group(depth + 1) : randomItem(c, `i${count++}`, combine),
    );
    return {
      id,
      type: 'group',
      combine,
      children,
      ...(c.chance(0.7) ? { weight: c.pick([1, 10, 20, 30, 0, 12.5, 33.3333]) } : {}),
      ...(depth > 0 && c.chance(0.1) ? { extraCredit: true } : {}),
      ...(c.chance(0.35)
        ? {
            drop: {
              ...(c.chance(0.85) ? { lowest: c.int(0, 3) } : {}),
              ...(c.chance(0.35) ? { highest: c.int(0, 2) } : {}),
            },
          }
        : c.chance(0.2)
          ? { keepBest: c.int(1, 4) }
          : {}),
      ...(c.chance(0.1) ? { alwaysKept: true } : {}),
      ...(c.chance(0.35) ? { whenEmpty: c.pick(['skip', 'zero'] as const) } : {}),
      ...(c.chance(0.15) ? { cap: c.pick([100, 90, 80.5, null]) } : {}),
      ...(c.chance(0.1) ? { floor: c.pick([10, 50, 33.3333, null]) } : {}),
      ...(c.chance(0.15) ? { late: c.pick(['one', 'two', null]) } : {}),
      ...(c.chance(0.15) ? { blank: c.pick(['one', 'two']) } : {}),
    };
  };
  const { extraCredit: _none, ...root } = group(0);
  return root;
}

function randomItem(c: Choices, id: string, combine: Group['combine']): Item {
  const extra = c.chance(0.15);
  const counts = !c.chance(0.08);
  const free = !counts || (extra && combine === 'points');
  return {
    id,
    type: 'item',
    points: free && c.chance(0.3) ? 0 : c.pick([10, 10, 20, 5, 0.5, 3, 7.25, 100]),
    ...(c.chance(0.5) ? { weight: c.pick([1, 2, 0, 0.5, 3]) } : {}),
    ...(extra ? { extraCredit: true } : {}),
    ...(counts ? {} : { counts: false }),
    ...(c.chance(0.1) ? { alwaysKept: true } : {}),
    ...(c.chance(0.75)
      ? { due: c.pick(['2026-10-24T17:00:00Z', '2027-01-08T17:00:00-03:30', '2027-03-01T09:00:00Z']) }
      : {}),
    ...(c.chance(0.3)
      ? { closes: c.pick(['2026-10-31T17:00:00Z', '2027-01-01T00:00:00Z', '2027-04-01T00:00:00Z']) }
      : {}),
    ...(c.chance(0.2)
      ? { sectionDates: { north: { due: '2027-01-11T17:00:00Z' }, east: { closes: '2027-01-14T17:00:00Z' } } }
      : {}),
    ...(c.chance(0.3) ? { late: c.pick(['one', 'two', null]) } : {}),
    ...(c.chance(0.2) ? { blank: c.pick(['one', 'two']) } : {}),
    ...(c.chance(0.2) ? { marks: 'verdicts' } : {}),
    ...(c.chance(0.4)
      ? {
          attempts: {
            ...c.pick([
              { use: 'best' },
              { use: 'latest' },
              { use: 'first' },
              { use: 'mean' },
              { use: 'decaying', newest: c.pick([60, 33.3333, 100]) },
              { use: 'regain', regain: c.pick([50, 66.67, 0, 100]) },
            ] as const),
            ...(c.chance(0.5) ? { retakeCap: c.pick([80, 66.67, 100, 0, [90, 80, 70], [66.67], [0, 100]]) } : {}),
          },
        }
      : {}),
    ...(c.chance(0.2) ? { curve: randomCurve(c) } : {}),
  };
}

function randomCurve(c: Choices): Curve | null {
  switch (c.int(0, 3)) {
    case 0:
      return { kind: 'add', points: c.pick([2, -1.5, 0.25]) };
    case 1:
      return { kind: 'top', at: c.pick([9, 18, 7, 0.3]) };
    case 2:
      return {
        kind: 'line',
        through: [
          [0, c.pick([0, 1, 4])],
          [3, c.pick([2, 5])],
          [10, c.pick([10, 9.5, 1])],
        ],
      };
    default:
      return null;
  }
}

const scoreOf = (c: Choices, points: number): number =>
  c.chance(0.5)
    ? Math.round(points * c.pick([0, 0.5, 0.8, 1, 0.4, 1.1]) * 10_000) / 10_000
    : c.int(0, 400) / c.pick([4, 10, 1, 10_000]);

function randomEntry(c: Choices, student: string, item: Item): Entry {
  const attempts: Attempt[] = Array.from({ length: c.chance(0.85) ? (c.chance(0.3) ? c.int(2, 4) : 1) : 0 }, () => ({
    ...(c.chance(0.85)
      ? item.marks && c.chance(0.5)
        ? { mark: c.pick(['Pass', 'Near', 'Fail']) }
        : { score: scoreOf(c, item.points) }
      : {}),
    ...(c.chance(0.7)
      ? {
          receivedAt: c.pick([
            '2026-10-24T17:00:00Z',
            '2026-10-24T17:10:00.001Z',
            '2026-10-26T09:30:00+01:00',
            '2026-11-02T04:30:00Z',
            '2027-01-12T20:29:59-03:30',
            '2027-01-20T00:00:00Z',
          ]),
        }
      : {}),
    ...(c.chance(0.08) ? { onTime: c.chance(0.7) } : {}),
    ...(c.chance(0.12) ? { lateUnits: c.int(0, 4) } : {}),
  }));
  return {
    student,
    item: item.id,
    ...(c.chance(0.12) ? { state: c.pick(['excused', 'missing', 'awaiting'] as const) } : {}),
    ...(attempts.length > 0 || c.chance(0.1) ? { attempts } : {}),
    ...(c.chance(0.1) ? { dueAt: c.pick(['2026-10-31T17:00:00Z', '2027-01-30T00:00:00Z']) } : {}),
    ...(c.chance(0.05) ? { closesAt: '2027-02-02T00:00:00Z' } : {}),
    ...(c.chance(0.1) ? { lateAllowances: c.int(0, 3) } : {}),
    ...(c.chance(0.05) ? { set: scoreOf(c, item.points) } : {}),
    ...(c.chance(0.08) ? { protected: c.chance(0.8) } : {}),
  };
}

function randomLate(c: Choices): LateRule {
  const common: LateRule = {
    ...(c.chance(0.5) ? { max: c.pick([50, 100, 33.3333, 150]) } : {}),
    ...(c.chance(0.3) ? { afterCloses: c.pick([50, 100, 12.5, 120]) } : {}),
    ...(c.chance(0.4) ? { of: c.pick(['possible', 'earned'] as const) } : {}),
    ...(c.chance(0.3) ? { floor: c.pick([50, 12.5, 33.3333]) } : {}),
    ...(c.chance(0.5) ? { graceMinutes: c.pick([0, 15, 10, 0.0001]) } : {}),
    ...(c.chance(0.5) ? { skipDays: c.pick([[6, 7], [1], [], [7, 7]]) } : {}),
    ...(c.chance(0.3)
      ? { skipDates: c.pick([['2027-01-09'], ['2026-10-25', '2026-11-01'], ['2027-01-01', '2027-01-12']]) }
      : {}),
  };
  return c.chance(0.7)
    ? { unit: c.pick(['hour', 'day'] as const), deduct: c.pick([10, 5, 0.5, 33.3333, 3]), ...common }
    : {
        steps: [
          { hours: c.pick([24, 0.5]), deduct: 5 },
          { hours: c.pick([48, 72.125]), deduct: c.pick([20, 2]) },
        ],
        after: c.pick([100, 40]),
        ...common,
      };
}

const randomBlank = (c: Choices): BlankRule => ({
  beforeDue: c.pick(['skip', 'skip', 'zero'] as const),
  afterDue: c.chance(0.3) ? 'skip' : { percent: c.pick([0, 0, 50, 33.3333]) },
  ...(c.chance(0.4) ? { missingAfter: c.pick(['due', 'closes'] as const) } : {}),
});

function randomOverride(c: Choices, student: string): Override {
  const percent = c.chance(0.7);
  return {
    student,
    ...(percent ? { percent: c.pick([71.5, 89.95, 50, 100]) } : {}),
    ...(!percent || c.chance(0.3) ? { letter: c.pick(['B', 'withdrawn']) } : {}),
    reason: 'board',
  };
}
