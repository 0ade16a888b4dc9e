import { areNamesHidden } from '@core/work/hidden-names';
import { counted } from '@core/words/count';
import { moment } from '@core/working/wording';
import type { BookTransaction } from '../../kernel/book-transaction';
import { managesBook } from '../../kernel/permissions';
import { personName } from '../accounts';
import { staffOf } from '../books';
import { putMails } from '../mail';
import { tellStaff } from '../notices';
import type { OwnPlace } from './facts';
import type { SubmissionRow } from './sql/submissions';

/** Sends the student their receipt, and tells those of the staff who want to hear of it. `s`: as it was handed in. */
export async function tellHandedIn(db: BookTransaction, own: OwnPlace, s: SubmissionRow): Promise<void> {
  const { school, id: book, title: bookTitle, timeZone } = own.book.row;
  const { title } = own.assessment;
  await putMails(db, school, [
    {
      ...{ person: own.student.person, kind: 'receipt' },
      subject: `Receipt ${s.receipt}: ${title}`,
      body: receiptWords(s, { title, bookTitle, at: moment(timeZone, Date.parse(s.handedInAt!)) }),
      path: `/my/${book}/${own.assessment.id}`,
    },
  ]);
  const late = own.due !== null && Date.parse(s.handedInAt!) > Date.parse(own.due);
  const hears = own.assessment.work.hears ?? 'nothing';
  if (hears === 'nothing' || (hears === 'late' && !late)) return;
  const teachers = (await staffOf(db, school, book)).filter((w) => managesBook(w.role)).map((w) => w.person);
  const hidden = areNamesHidden(own.assessment.work);
  await tellStaff(db, { school, book, bookTitle }, teachers, {
    kind: 'arrival',
    text: `${hidden ? 'Somebody' : personName(own.student)} handed in ${title}${late ? ', late' : ''}${s.attempt! > 1 ? `, attempt ${s.attempt}` : ''}.`,
    path: hidden
      ? `/book/${book}/marking/${own.assessment.id}`
      : `/book/${book}/assessments/${own.assessment.id}/arrivals?student=${own.student.id}`,
    writtenBy: hidden ? null : own.student.person,
  });
}

/** The receipt as plain words: number, moment, files with bytes and SHA-256, what was ticked. */
function receiptWords(s: SubmissionRow, of: { title: string; bookTitle: string; at: string }): string {
  const parts = [
    ...s.files.map((f) => `${f.name}\n  ${counted(f.bytes, 'byte')}, SHA-256 ${f.sha256}`),
    ...(s.typed.trim() === '' ? [] : [`Text\n  ${counted(s.typed.length, 'character')}`]),
    ...(s.link.trim() === '' ? [] : [`Link\n  ${s.link}`]),
  ];
  return [
    `${of.title}, ${of.bookTitle}`,
    `Handed in ${of.at}. Receipt ${s.receipt}.`,
    parts.join('\n'),
    ...(s.statement === null ? [] : [`Ticked: “${s.statement}”`]),
    'Keep this: your teachers can find the work by its number.',
  ].join('\n\n');
}
