import { RELEASE_PARTS, type SlipState, type Unfinished } from '@contract/slips';
import { counted, listed } from '@core/words/count';
import { dayAndTime } from '../../ui/text/dates';

/** What looks unfinished, as briefly as a row has room for it; that work waits its score says. */
const BRIEFLY: Record<Unfinished, string> = {
  'no-feedback': 'no feedback',
  criteria: 'criteria open',
  waiting: '',
  'second-look': 'second look',
  writing: 'being written',
};

/** What the row of one student says of their slip. */
export interface SlipWords {
  /** What there is beside the score, in pencil or in ink. */
  beside: { part: string; look: 'ink' | 'pencil' }[];
  unfinished: string;
  /** What of it the student sees at present. */
  sees: string;
  /** They see something as it was before. */
  changed: boolean;
  /** What became of it: told, opened, played, fetched. */
  delivered: string;
}

/** `out`: whether the student sees the score: not, as it is, as it was. `slip` null: not known yet. */
export function slipWords(slip: SlipState | null, out: 0 | 1 | 2, zone: string): SlipWords {
  const seen = slip ? RELEASE_PARTS.filter((p) => slip[p] === 'released' || slip[p] === 'changed') : [];
  const changed = out === 2 || RELEASE_PARTS.some((p) => slip?.[p] === 'changed');
  const all = slip !== null && RELEASE_PARTS.every((p) => slip[p] === 'none' || slip[p] === 'released');
  return {
    beside: (['rubric', 'feedback'] as const).flatMap((part) => {
      const state = slip?.[part] ?? 'none';
      return state === 'none' ? [] : [{ part, look: state === 'released' ? 'ink' : 'pencil' }];
    }),
    unfinished: (slip?.unfinished ?? [])
      .map((u) => BRIEFLY[u])
      .filter(Boolean)
      .join(', '),
    sees: changed ? 'an earlier form' : seenWords(seen, out, all),
    changed,
    delivered: slip ? deliveredWords(slip, zone) : '',
  };
}

function seenWords(seen: readonly string[], out: 0 | 1 | 2, all: boolean): string {
  if (seen.length === 0) return out === 0 ? 'nothing yet' : 'the score';
  return all ? 'all of it' : `${seen.join(', ')} alone`;
}

function deliveredWords(s: SlipState, zone: string): string {
  if (s.releasedAt === null) return '';
  const did = [
    s.opened ? `opened ${dayAndTime(s.opened, zone)}` : '',
    s.played ? 'played' : '',
    s.fetched ? 'file fetched' : '',
  ].filter(Boolean);
  return did.length > 0 ? did.join(', ') : s.told ? 'told' : 'not opened';
}

/** What students see of one assessment now, since when, and why where it is not all: one sentence. */
export function visibleWords(slips: readonly SlipState[], zone: string): string {
  const out = slips.filter((s) => s.releasedAt !== null);
  if (out.length === 0) return 'Students see nothing of it: it was not released yet, or was withdrawn.';
  const last = out.map((s) => s.releasedAt!).reduce((a, b) => (Date.parse(a) > Date.parse(b) ? a : b));
  const earlier = out.filter((s) => RELEASE_PARTS.some((p) => s[p] === 'changed')).length;
  const parts = listed(RELEASE_PARTS.filter((p) => out.some((s) => s[p] === 'released' || s[p] === 'changed')));
  const changed = earlier > 0 ? `, ${earlier} of them an earlier form, since it was changed after` : '';
  return `${out.length} of ${counted(slips.length, 'student')} see their ${parts}, last released ${dayAndTime(last, zone)}${changed}.`;
}
