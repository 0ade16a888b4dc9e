import { counted } from '@core/words/count';
import type { WhereFinding } from '@contract/work/submissions';
import { dayAndTime } from '../../ui/text/dates';

/** What can be done about a finding, each one key away. */
export type Repair = 'look' | 'accept' | 'move' | 'open-again';

/** How many percent of what was announced is here, and the files that it is said of. */
function coming(f: WhereFinding): { share: number; names: string } {
  const files = (f.submission?.files ?? []).filter((x) => x.sha256 === null && x.received < x.bytes);
  const [all, here] = files.reduce(([a, h], x) => [a + x.bytes, h + x.received], [0, 0]);
  return { share: Math.floor((100 * here) / Math.max(1, all)), names: files.map((x) => x.name).join(', ') };
}

function partNames(f: WhereFinding): string {
  const s = f.submission;
  if (!s) return '';
  const names = s.files.map((x) => x.name);
  if (s.typed.trim() !== '') names.push('a text');
  if (s.link.trim() !== '') names.push('a link');
  return names.length > 4 ? `${names.slice(0, 3).join(', ')} and ${names.length - 3} more` : names.join(', ');
}

/** What became of it, in a sentence. */
export function findingWords(f: WhereFinding): string {
  const at = f.at === null ? '' : dayAndTime(f.at, f.timeZone);
  const late = f.late ? ', late' : '';
  const marked = f.scored ? 'It is marked.' : 'It waits to be marked.';
  const part = partNames(f);
  const parts = part === '' ? '' : `: ${part}`;
  switch (f.kind) {
    case 'handed-in':
      return `Handed in ${at}${late}, receipt ${f.submission?.receipt ?? ''}${parts}. ${f.other ? `It came here from ${f.other.title}, ${f.other.bookTitle}. ` : ''}${marked}`;
    case 'coming':
      return `Comes in at this moment: ${coming(f).share} % of ${coming(f).names}. It is not handed in yet.`;
    case 'broke-off':
      return `Broke off at ${coming(f).share} % of ${coming(f).names}, last heard of ${at}. Nothing is handed in.`;
    case 'begun':
      return `Begun ${at}${parts}, and never handed in.`;
    case 'taken-back':
      return `Handed in, and taken back by the student${parts}. It is still readable here.`;
    case 'moved':
      return `Handed in here ${at} and moved to ${f.other ? `${f.other.title}, ${f.other.bookTitle}` : 'another assessment'}.`;
    case 'recorded':
      return `Recorded by hand${at === '' ? '' : `, as come in ${at}`}: nothing was handed in here. ${marked}`;
    case 'hidden':
      return 'Hidden until names are shown: it is not said here whether anything came.';
    case 'excused':
      return 'Excused: nothing is expected.';
    case 'elsewhere':
      return f.scored
        ? 'Nothing is handed in here; a score stands.'
        : 'Nothing is handed in here: on paper, or in another tool.';
    case 'nothing':
      return `Nothing came. ${f.open ? 'It can still be handed in.' : 'It cannot be handed in any more.'}`;
  }
}

/** What can be done about it, the likeliest first. */
export function repairsOf(f: WhereFinding): Repair[] {
  // What came stands in the marking room, without names.
  if (f.kind === 'hidden') return [];
  const begun = f.kind === 'begun' || f.kind === 'broke-off';
  return [
    ...(begun && f.manages ? (['accept'] as const) : []),
    ...(f.kind === 'handed-in' && f.manages && !f.scored ? (['move'] as const) : []),
    ...(f.teaches && !f.open && !f.left && (begun || f.kind === 'nothing' || f.kind === 'handed-in')
      ? (['open-again'] as const)
      : []),
    'look',
  ];
}

/** The sentence over all: how much was found. */
export function aboutFindings(findings: readonly WhereFinding[]): string {
  const here = findings.filter((f) => f.kind === 'handed-in').length;
  const open = findings.filter((f) => ['begun', 'broke-off', 'coming'].includes(f.kind)).length;
  if (findings.length === 0) return 'No work in your books.';
  return [
    `${counted(here, 'piece')} handed in`,
    ...(open > 0 ? [`${counted(open, 'piece')} begun and not handed in`] : []),
    `${counted(new Set(findings.map((f) => f.book)).size, 'book')} looked through`,
  ].join(', ');
}
