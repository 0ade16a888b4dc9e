import { DateTime } from 'luxon';
import type { BookDocument, Entry, Item, Student } from '../book/document';
import { add, cmp, div, HUNDRED, max, min, mul, num, pct, q, sub, sum, ZERO, type Q } from './reference-fraction';

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
}
export type Skip = { skipped: true; state: string; open: boolean };
export type Earned = { skipped: false; earned: Q; state: string; open: boolean };
export type Value = Skip | Earned;

// Section 2.
export function valueOf(book: BookDocument, student: Student, item: Item, entry: Entry | undefined, path: Path): Value {
  const skipped = (state: string): Value => ({
    skipped: true,
    state,
    open: ['pending', 'awaiting', 'blank'].includes(state) && !path.optional,
  });
  const earned = (state: string, points: Q): Value => ({
    skipped: false,
    earned: points,
    state,
    open: state === 'blank' && !path.optional,
  });
  const section = student.section === undefined ? undefined : item.sectionDates?.[student.section];
  const extra = hours(student.extraTimeHours ?? 0);
  const allowance = mul(q(BigInt(entry?.lateAllowances ?? 0)), hours(book.lateAllowanceHours ?? 24));
  const date = (own: string | undefined, of: string | undefined): Q | null =>
    own !== undefined ? add(moment(own), allowance) : of !== undefined ? add(add(moment(of), extra), allowance) : null;
  const due = date(entry?.dueAt, section?.due ?? item.due);
  let closes = date(entry?.closesAt, section?.closes ?? item.closes);
  if (closes !== null && due !== null) closes = max(closes, due);
  const rule = book.rules!.blank![path.blank]!;
  const limit = rule.missingAfter === 'closes' ? (closes ?? due) : due;
  const past = book.closing === true || (limit !== null && cmp(moment(book.asOf), limit) > 0);
  const afterDue = (): Value =>
    path.optional || rule.afterDue === 'skip'
      ? skipped('missing')
      : earned('missing', mul(pct(rule.afterDue.percent), num(item.points)));
  const attempts = entry?.attempts ?? [];
  if (entry?.state === 'excused') return skipped('excused');
  if (entry?.set !== undefined) return earned('set', num(entry.set));
  const scored = attempts.flatMap((a, i) =>
    a.score !== undefined || a.mark !== undefined ? [attempt(book, item, a, i + 1, { due, closes }, path.late)] : [],
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
  return rule.beforeDue === 'skip' || path.optional ? skipped('blank') : earned('blank', ZERO);
}

// Section 4.
function attempt(
  book: BookDocument,
  item: Item,
  a: NonNullable<Entry['attempts']>[number],
  number: number,
  { due, closes }: { due: Q | null; closes: Q | null },
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
  if (curve?.kind === 'line') {
    const line = curve.through.map(([p, r]) => [num(p), num(r)] as const);
    const after = line.findIndex(([p]) => cmp(x, p) <= 0);
    if (after === -1) x = line[line.length - 1]![1];
    else if (after === 0) x = line[0]![1];
    else {
      const [x1, y1] = line[after - 1]!;
      const [x2, y2] = line[after]!;
      x = add(y1, mul(sub(x, x1), div(sub(y2, y1), sub(x2, x1))));
    }
  }
  x = max(x, ZERO);
  if (lateName !== null) {
    const rule = book.rules!.late![lateName]!;
    const byRule = deduction(book, rule, a, due);
    const shut = rule.afterCloses !== undefined && closes !== null && a.receivedAt !== undefined && !a.onTime && a.lateUnits === undefined && cmp(moment(a.receivedAt), closes) > 0; // prettier-ignore
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
function deduction(
  book: BookDocument,
  rule: NonNullable<NonNullable<BookDocument['rules']>['late']>[string],
  a: NonNullable<Entry['attempts']>[number],
  due: Q | null,
): Q | null {
  if (a.onTime) return null;
  const most = num(rule.max ?? 100);
  const step = (h: Q): Q => num(rule.steps!.find((s) => cmp(h, hours(s.hours)) <= 0)?.deduct ?? rule.after!);
  if (a.lateUnits !== undefined) {
    if (a.lateUnits === 0) return null;
    const units = q(BigInt(a.lateUnits));
    return min(most, rule.steps ? step(mul(units, hours(24))) : mul(num(rule.deduct!), units));
  }
  if (due === null || a.receivedAt === undefined) return null;
  const received = moment(a.receivedAt);
  if (cmp(received, due) <= 0) return null;
  // Due dates are whole milliseconds: hours have at most four decimals.
  const counted = q(countedMillis(book.timeZone, due.n, received.n, rule.skipDays ?? [], rule.skipDates ?? []));
  if (cmp(counted, mul(num(rule.graceMinutes ?? 0), q(60_000n))) <= 0) return null;
  if (rule.steps) return min(most, step(counted));
  const unit = rule.unit === 'hour' ? 3_600_000n : 86_400_000n;
  const units = (counted.n + unit - 1n) / unit;
  return min(most, mul(num(rule.deduct!), q(units)));
}

function countedMillis(zone: string, from: bigint, to: bigint, skipDays: number[], skipDates: string[]): bigint {
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
