import { counted } from '@core/words/count';
import type { Letters } from '@contract/mail';
import type { ArrivalRow } from '../../data/work/arrival-rows';

/** Hours within which somebody who was written to is left out, unless they are ticked. */
const LATELY_HOURS = 24;

/** One who may be written to. */
export interface Recipient {
  id: string;
  name: string;
  /** In their list: how they stand, and when they were written to last. */
  label: string;
}

/** Those of a list who may be written to, in their groups. */
export interface RecipientGroup {
  label: string;
  items: Recipient[];
}

/** Everybody of a list by how they stand, and those who have nothing in, can still hand in, and were not written to lately. */
export function recipientsOf(
  rows: readonly ArrivalRow[],
  letters: Letters,
  asOf: string,
): { groups: RecipientGroup[]; nothing: string[]; lately: string[] } {
  const last = new Map<string, string>();
  for (const l of letters)
    for (const c of l.copies) if ((last.get(c.enrolment) ?? '') < l.at) last.set(c.enrolment, l.at);
  const hoursSince = (id: string): number =>
    last.has(id) ? (Date.parse(asOf) - Date.parse(last.get(id)!)) / 3_600_000 : Infinity;
  const lately = (id: string): boolean => hoursSince(id) < LATELY_HOURS;
  const said = (id: string): string => {
    if (!lately(id)) return '';
    const hours = Math.floor(hoursSince(id));
    return `, written to ${hours === 0 ? 'within the hour' : `${counted(hours, 'hour')} ago`}`;
  };
  const within = (r: ArrivalRow): number =>
    !r.open || !['nothing yet', 'missing', 'begun', 'broke off'].includes(r.kind)
      ? 2
      : r.kind === 'begun' || r.kind === 'broke off'
        ? 1
        : 0;
  const groups = ['Nothing handed in', 'Begun, not handed in', 'The others'].map((label, n) => ({
    label,
    items: rows
      .filter((r) => within(r) === n)
      .map((r) => ({ id: r.enrolment, name: r.name, label: `${r.name} · ${r.state}${said(r.enrolment)}` })),
  }));
  const nothing = groups[0]!.items.map((i) => i.id);
  return {
    groups: groups.filter((g) => g.items.length > 0),
    nothing: nothing.filter((id) => !lately(id)),
    lately: nothing.filter(lately),
  };
}

/** The words that stand there first, of those who have nothing in. */
export const REMINDER = {
  subject: '{assessment}: nothing from you yet',
  body: 'Dear {given},\n\nnothing has come from you for {assessment} yet (due {due}). It can still be handed in.\nIf something keeps you from it, ask at the assessment.',
};
/** And of others. */
export const BLANK = { subject: '{assessment}', body: 'Dear {given},\n\n' };
