import type { Slip, SlipFile, SlipMark, SlipWork } from '@contract/slips';
import type { StudentBook } from '@contract/statements';
import { parse } from '@core/exact/fraction';
import { shortText } from '@core/exact/rounding';
import { givenOf } from '@core/rubric/given';
import { rubricTotal, totalWords } from '@core/rubric/total';
import { counted } from '@core/words/count';
import { termWords } from '@core/working/slip-sum';
import { moment, ordinal } from '@core/working/wording';
import { TaggedPdf, type Words } from '../../../../kernel/pdf/tagged-pdf';
import { putRichText } from './rich-blocks';

/** Whose slip of what it is. */
export interface SlipPdfOf {
  school: string;
  book: StudentBook;
  work: StudentBook['work'][number];
  slip: Slip;
  student: { family: string; given: string; number: string };
}

const points = (exact: string): string => {
  const text = shortText(parse(exact));
  return text.includes('.') ? text : `${text}.0`;
};

/** The slip of one assessment as a tagged PDF: what its student reads on the page, whole. */
export async function slipPdf(of: SlipPdfOf): Promise<Buffer> {
  const { book, work, slip, student, school } = of;
  const name = [student.given, student.family].filter(Boolean).join(' ');
  const at = (when: string): string => moment(book.timeZone, Date.parse(when));
  const pdf = new TaggedPdf({
    ...{ title: `${work.title} – ${name}`, author: school, at: book.asOf },
    foot: `${school} · ${book.title} · ${name}, ${student.number} · as of ${at(book.asOf)}`,
  });
  await pdf.heading(1, work.title);
  await pdf.paragraph([{ text: `${name} · ${student.number}`, face: 'bold' }]);
  await pdf.paragraph([{ text: book.title, quiet: true }]);
  const line = lineOf(of, at);
  if (line) await pdf.paragraph([{ text: line, quiet: true }]);
  await putScore(pdf, work);
  if (slip.comment) {
    await pdf.heading(2, 'To everybody');
    await pdf.paragraph([{ text: slip.comment }]);
  }
  await putWorks(pdf, of);
  return pdf.end();
}

function lineOf({ work, slip }: SlipPdfOf, at: (when: string) => string): string {
  const { score } = work;
  const attempt = score?.sum && score.sum.attempts > 1 ? `${ordinal(score.sum.attempt)} attempt` : '';
  const came = score?.receivedAt ? `handed in ${at(score.receivedAt)}` : '';
  const when = score?.releasedAt ?? slip.releasedAt;
  const by = score?.releasedBy ?? slip.releasedBy;
  const released = when && `released ${at(when)}${by === '' ? '' : ` by ${by}`}`;
  return [[attempt, came].filter(Boolean).join(', '), released].filter(Boolean).join(' · ');
}

async function putScore(pdf: TaggedPdf, work: StudentBook['work'][number]): Promise<void> {
  const { score } = work;
  if (!score) return;
  await pdf.heading(2, 'Score');
  const { sum } = score;
  const of = `of ${work.points}${score.dropped ? ', dropped, does not count' : ''}`;
  if (sum && sum.terms.length > 0) {
    const terms = sum.terms.map((t) => `${t.sign === '-' ? '−' : '+'} ${points(t.points)} ${termWords(t)}`);
    const text = `${points(sum.marked)} marked ${terms.join(' ')} = ${points(sum.counts)} ${of}`;
    await pdf.paragraph([{ text, face: 'bold' }], { size: 13 });
  } else if (score.earned !== null)
    await pdf.paragraph([{ text: `${points(score.earned)} ${of}`, face: 'bold' }], { size: 13 });
  else await pdf.paragraph([{ text: work.state, face: 'bold' }], { size: 13 });
  await pdf.table(
    'How it came about',
    score.lines.map((l) => ({
      ...{ head: [{ text: l.label }], detail: l.detail, figure: l.figure, strong: l.tone === 'sum' },
    })),
  );
}

/** What was given and said of each piece of work, the latest first. */
async function putWorks(pdf: TaggedPdf, of: SlipPdfOf): Promise<void> {
  const { slip } = of;
  const said = new Map((slip.feedback?.works ?? []).map((w) => [w.work, w]));
  const given = new Map((slip.rubric?.works ?? []).map((w) => [w.work, w]));
  const works = [...new Set([...said.keys(), ...given.keys()])]
    .map((work) => ({ work, attempt: (said.get(work) ?? given.get(work))!.attempt }))
    .sort((a, b) => b.attempt - a.attempt);
  for (const [place, { work, attempt }] of works.entries()) {
    const title = `${ordinal(attempt)} attempt`;
    const put = async (): Promise<void> => {
      if (place > 0) await pdf.heading(2, title[0]!.toUpperCase() + title.slice(1));
      const level = place > 0 ? 3 : 2;
      if (given.has(work)) await putRubric(pdf, of, work, level);
      const feedback = said.get(work);
      if (feedback) await putFeedback(pdf, feedback, level);
      const by = [...new Set([...(feedback?.by ?? []), ...(given.get(work)?.by ?? [])])];
      if (by.length > 0) await pdf.paragraph([{ text: `Marked by ${by.join(', ')}.`, quiet: true }]);
    };
    await pdf.section(title, put);
  }
  if (slip.rubric?.markersHidden || slip.feedback?.markersHidden)
    await pdf.paragraph([{ text: 'Who marked it is not said here.', quiet: true }]);
  const everybody = slip.feedback?.everybody ?? [];
  if (everybody.length > 0) {
    await pdf.heading(2, 'For everybody');
    await putFiles(pdf, everybody);
  }
}

async function putRubric(pdf: TaggedPdf, of: SlipPdfOf, work: string, level: 2 | 3): Promise<void> {
  await pdf.heading(level, 'Rubric');
  const { rubric, works } = of.slip.rubric!;
  const given = works.find((w) => w.work === work)!;
  const marks = new Map(given.marks.map((m) => [m.criterion, m.mark]));
  for (const criterion of rubric.criteria) {
    const g = givenOf(criterion, marks.get(criterion.id));
    const figure = g.points === null ? g.word : `${g.points} of ${g.most}`;
    const head: Words[] = [
      { text: criterion.title, face: 'bold' },
      { text: `  ${figure}`, face: 'figure' },
    ];
    if (g.stands) head.push({ text: `  ${g.stands}`, quiet: true });
    await pdf.paragraph(head);
    await pdf.list(async (item) => {
      for (const [i, l] of criterion.levels.entries()) {
        const reached = g.level === i + 1;
        const words: Words[] = [{ text: `${l.points}: ${l.words}`, face: reached ? 'bold' : 'text', quiet: !reached }];
        if (reached) words.push({ text: g.past ? ' – given, and more' : ' – given', face: 'italic' });
        await item(reached ? '■' : '□', words);
      }
    });
  }
  const total = rubricTotal(rubric, Object.fromEntries(marks), of.work.points);
  const sum = of.work.score?.sum;
  const marked = sum?.attempt === given.attempt ? sum.marked : null;
  if (total) await pdf.paragraph([{ text: totalWords(total, marked, (p) => p) }]);
}

async function putFeedback(pdf: TaggedPdf, work: SlipWork, level: 2 | 3): Promise<void> {
  await pdf.heading(level, 'Feedback');
  if (work.note) await putRichText(pdf, work.note);
  const said = work.marks.filter((m) => m.mark.comment !== '' || m.mark.wording);
  if (said.length > 0) {
    await pdf.paragraph([{ text: 'Notes on the work', face: 'bold' }]);
    await pdf.list(async (item) => {
      for (const m of said) await item('•', noteWords(m));
    });
  }
  const drawn = work.marks.length - said.length;
  if (drawn > 0)
    await pdf.paragraph([{ text: `${counted(drawn, 'mark')} without words on the work, to be seen there.`, quiet: true }]); // prettier-ignore
  await putFiles(pdf, work.files);
}

function noteWords({ mark, by }: SlipMark): Words[] {
  const { surface, quote, comment, wording } = mark;
  const place = surface.on === 'page' ? `Page ${surface.index + 1}: ` : surface.on === 'sheet' ? `Sheet ${surface.index + 1}: ` : ''; // prettier-ignore
  return [
    ...(place ? [{ text: place, quiet: true }] : []),
    ...(quote ? [{ text: `“${quote.exact.slice(0, 200)}” `, face: 'italic' as const }] : []),
    ...(wording ? [{ text: `better: ${wording} ` }] : []),
    { text: comment },
    ...(by === '' ? [] : [{ text: ` (${by})`, quiet: true }]),
  ];
}

async function putFiles(pdf: TaggedPdf, files: readonly SlipFile[]): Promise<void> {
  if (files.length === 0) return;
  await pdf.list(async (item) => {
    for (const f of files) {
      const recorded = f.purpose !== 'given';
      const long = recorded && f.seconds !== null ? `, ${counted(Math.round(f.seconds), 'second')}` : '';
      await item('•', [
        { text: recorded ? `A recording${long}` : f.name },
        { text: recorded ? ', to be played on its page.' : ', given back as a file on its page.', quiet: true },
      ]);
    }
  });
}
