import { DateTime } from 'luxon';
import type { BookDocument, Entry, Item, Student } from '../book/document';
import {
  add,
  cmp,
  div,
  HUNDRED,
  max,
  min,
  mul,
  num,
  pct,
  q,
  sub,
  sum,
  through,
  ZERO,
  type Q,
} from './reference-fraction';

/** What items are worth, read plainly (contract, sections 2 to 4). */
/** Milliseconds as a fraction: hours with decimals stay exact. */
const moments = new Map<string, Q>();
const moment = (s: string): Q => {
  let at = moments.get(s);
  if (!at) moments.set(s, (at = q(BigInt(DateTime.fromISO(s.toUpperCase(), { setZone: true }).toMillis()))));
  return at;
};
const hours = (h: number): Q => mul(num(h), q(3_600_000n));

export interface Path {
  late: string | null;
  blank: string;
  optional: boolean;
  /** A count names it, a variant leaves it out. */
  isCount: boolean;
  isLeftOut: boolean;
}
export type Skip = { skipped: true; state: string; open: boolean };
export type Earned = { skipped: false; earned: Q; state: string; open: boolean };
export type Value = Skip | Earned;

// Section 2.
export function valueOf(
  book: BookDocument,
  student: Student,
  item: Item,
  entry: Entry | undefined,
  path: Path,
  bank: bigint,
): Value {
  if (path.isLeftOut) return { skipped: true, state: 'left-out', open: false };
  const never = path.optional || path.isCount;
  const skipped = (state: string): Value => ({
    skipped: true,
    state,
    open: ['pending', 'awaiting', 'blank'].includes(state) && !never,
  });
  const earned = (state: string, points: Q): Value => ({
    skipped: false,
    earned: points,
    state,
    open: state === 'blank' && !never,
  });
  const { due, closes } = datesOf(book, student, item, entry);
  const rule = book.rules!.blank![path.blank]!;
  const limit = rule.missingAfter === 'closes' ? (closes ?? due) : due;
  const past = book.closing === true || (limit !== null && cmp(moment(book.asOf), limit) > 0);
  const afterDue = (): Value =>
    never || rule.afterDue === 'skip'
      ? skipped('missing')
      : earned('missing', mul(pct(rule.afterDue.percent), num(item.points)));
  const attempts = entry?.attempts ?? [];
  if (entry?.state === 'excused') return skipped('excused');
  if (entry?.set !== undefined) return earned('set', num(entry.set));
  const scored = attempts.flatMap((a, i) =>
    a.score !== undefined || a.mark !== undefined
      ? [attempt(book, item, a, i + 1, { due, closes, bank }, path.late)]
      : [],
  );
  if (scored.length > 0) {
    const use = item.attempts?.use ?? 'best';
    const pick =
      use === 'first'
        ? scored[0]!
        : use === 'latest'
          ? scored[scored.length - 1]!
          : use === 'best'
            ? scored.reduce(max)
            : use === 'decaying'
              ? scored.slice(1).reduce((v, a) => add(mul(pct(item.attempts!.newest!), a), mul(sub(pct(100), pct(item.attempts!.newest!)), v)), scored[0]!) // prettier-ignore
              : use === 'regain'
                ? add(scored[0]!, mul(pct(item.attempts!.regain!), max(ZERO, sub(scored.reduce(max), scored[0]!))))
                : div(sum(scored), q(BigInt(scored.length)));
    return earned('scored', pick);
  }
  if (attempts.length > 0) return skipped('pending');
  if (entry?.state === 'missing') return afterDue();
  if (entry?.state === 'awaiting') return skipped('awaiting');
  if (past) return afterDue();
  return rule.beforeDue === 'skip' || never ? skipped('blank') : earned('blank', ZERO);
}

function datesOf(
  book: BookDocument,
  student: Student,
  item: Item,
  entry: Entry | undefined,
): { due: Q | null; closes: Q | null } {
  const section = student.section === undefined ? undefined : item.sectionDates?.[student.section];
  const extra = hours(student.extraTimeHours ?? 0);
  const allowance = mul(q(BigInt(entry?.lateAllowances ?? 0)), hours(book.lateAllowanceHours ?? 24));
  const date = (own: string | undefined, of: string | undefined): Q | null =>
    own !== undefined ? add(moment(own), allowance) : of !== undefined ? add(add(moment(of), extra), allowance) : null;
  const due = date(entry?.dueAt, section?.due ?? item.due);
  const closes = date(entry?.closesAt, section?.closes ?? item.closes);
  return { due, closes: closes !== null && due !== null ? max(closes, due) : closes };
}

type Late = NonNullable<NonNullable<BookDocument['rules']>['late']>[string];
type Try = NonNullable<Entry['attempts']>[number];

const isShut = (rule: Late, a: Try, closes: Q | null): boolean =>
  rule.afterCloses !== undefined &&
  closes !== null &&
  a.receivedAt !== undefined &&
  !a.onTime &&
  a.lateUnits === undefined &&
  cmp(moment(a.receivedAt), closes) > 0;

/** Section 4.1, the bank: the units that each item of a rule takes, by its id. `items`: in book order. */
export function bankUnits(
  book: BookDocument,
  student: Student,
  name: string,
  items: readonly Item[],
  entryOf: (item: Item) => Entry | undefined,
): Map<string, bigint> {
  const rule = book.rules!.late![name]!;
  const takes = new Map<string, bigint>();
  if (!rule.bank) return takes;
  let left = BigInt(rule.bank.units);
  const dated = items
    .map((item) => ({ item, entry: entryOf(item), ...datesOf(book, student, item, entryOf(item)) }))
    .filter((d) => d.due !== null && d.entry !== undefined && d.entry.state !== 'excused');
  for (const { item, entry, due, closes } of [...dated].sort((a, b) => cmp(a.due!, b.due!))) {
    const can = rule.bank.perItem === undefined || left < BigInt(rule.bank.perItem) ? left : BigInt(rule.bank.perItem);
    const clocks = (entry!.attempts ?? [])
      .filter((a) => !a.onTime && a.lateUnits === undefined && !isShut(rule, a, closes))
      .map((a) => clockUnits(book, rule, a, due) ?? 0n)
      .filter((u) => u > 0n && cmp(mul(num(rule.deduct!), q(u - can)), num(rule.max ?? 100)) < 0);
    const most = clocks.reduce((x, y) => (x > y ? x : y), 0n);
    const taken = most < can ? most : can;
    takes.set(item.id, taken);
    left -= taken;
  }
  return takes;
}

// Section 4.
function attempt(
  book: BookDocument,
  item: Item,
  a: NonNullable<Entry['attempts']>[number],
  number: number,
  { due, closes, bank }: { due: Q | null; closes: Q | null; bank: bigint },
  lateName: string | null,
): Q {
  const points = num(item.points);
  let x =
    a.score !== undefined
      ? num(a.score)
      : mul(pct(book.rules!.marks![item.marks!]!.find((m) => m.label === a.mark)!.percent), points);
  const curve = item.curve;
  if (curve?.kind === 'add') x = add(x, num(curve.points));
  if (curve?.kind === 'top') x = div(mul(x, points), num(curve.at));
  if (curve?.kind === 'line') x = through(curve.through, x);
  x = max(x, ZERO);
  if (lateName !== null) {
    const rule = book.rules!.late![lateName]!;
    const shut = isShut(rule, a, closes);
    const byRule = deduction(book, rule, a, due, shut ? 0n : bank);
    const d = shut ? max(num(rule.afterCloses!), byRule ?? ZERO) : byRule;
    if (d !== null) {
      const off = mul(div(d, HUNDRED), (rule.of ?? 'possible') === 'possible' ? points : x);
      x = max(sub(x, off), shut ? ZERO : min(x, mul(pct(rule.floor ?? 0), points)));
    }
  }
  const caps = item.attempts?.retakeCap === undefined ? [] : [item.attempts.retakeCap].flat();
  if (number >= 2 && caps.length > 0) x = min(x, mul(pct(caps[number - 2] ?? caps.at(-1)!), points));
  return x;
}

// Section 4.1: d in percent, or null where the attempt is not late.
function deduction(book: BookDocument, rule: Late, a: Try, due: Q | null, bank: bigint): Q | null {
  if (a.onTime) return null;
  const most = num(rule.max ?? 100);
  const step = (h: Q): Q => num(rule.steps!.find((s) => cmp(h, hours(s.hours)) <= 0)?.deduct ?? rule.after!);
  if (a.lateUnits !== undefined) {
    if (a.lateUnits === 0) return null;
    const units = q(BigInt(a.lateUnits));
    return min(most, rule.steps ? step(mul(units, hours(24))) : mul(num(rule.deduct!), units));
  }
  if (rule.steps) {
    const counted = clockMillis(book, rule, a, due);
    return counted === null ? null : min(most, step(counted));
  }
  const units = clockUnits(book, rule, a, due);
  if (units === null) return null;
  return min(most, mul(num(rule.deduct!), q(units > bank ? units - bank : 0n)));
}

/** Counted lateness in milliseconds; null: not late. */
function clockMillis(book: BookDocument, rule: Late, a: Try, due: Q | null): Q | null {
  if (due === null || a.receivedAt === undefined) return null;
  const received = moment(a.receivedAt);
  if (cmp(received, due) <= 0) return null;
  // Due dates are whole milliseconds: hours have at most four decimals.
  const counted = q(countedMillis(book.timeZone, due.n, received.n, rule.skipDays ?? [], rule.skipDates ?? []));
  return cmp(counted, mul(num(rule.graceMinutes ?? 0), q(60_000n))) <= 0 ? null : counted;
}

function clockUnits(book: BookDocument, rule: Late, a: Try, due: Q | null): bigint | null {
  const counted = clockMillis(book, rule, a, due);
  const unit = rule.unit === 'hour' ? 3_600_000n : 86_400_000n;
  return counted === null ? null : (counted.n + unit - 1n) / unit;
}

/** What was counted before: the same lateness is asked for by the bank, by the attempt and by every pass of a book. */
const counted = new Map<string, bigint>();
function countedMillis(
  ...of: [zone: string, from: bigint, to: bigint, skipDays: number[], skipDates: string[]]
): bigint {
  const key = of.join(';');
  const known = counted.get(key) ?? countMillis(...of);
  if (counted.size > 100_000) counted.clear();
  counted.set(key, known);
  return known;
}

function countMillis(zone: string, from: bigint, to: bigint, skipDays: number[], skipDates: string[]): bigint {
  if (skipDays.length + skipDates.length === 0) return to - from;
  let counted = to - from;
  let day = DateTime.fromMillis(Number(from), { zone }).startOf('day').minus({ days: 2 });
  while (BigInt(day.toMillis()) < to) {
    const next = day.plus({ days: 1 }).startOf('day');
    if (skipDays.includes(day.weekday) || skipDates.includes(day.toISODate()!)) {
      const a = BigInt(day.toMillis()) > from ? BigInt(day.toMillis()) : from;
      const b = BigInt(next.toMillis()) < to ? BigInt(next.toMillis()) : to;
      if (b > a) counted -= b - a;
    }
    day = next;
  }
  return counted;
}
