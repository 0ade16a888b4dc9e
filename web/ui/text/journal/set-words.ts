import type { JournalKind, JournalSet } from '@contract/history';
import type { Names } from './journal-words';

const COUNT = (n: number, one: string, many: string): string => (n === 1 ? one : `${n} ${many}`);

/** What a set of changes was, in a few words: "12 cells pasted", "Soil pit released to 21". */
export function setWords(set: JournalSet, names: Names): string {
  const first = set.shown[0];
  const title = first?.assessment ? names.assessment(first.assessment) : '';
  const cells = COUNT(set.lines, '1 cell', 'cells');
  if (first?.hidden) return `${title}: hidden until shown`;
  switch (set.set) {
    case 'intake':
      return `${cells} brought in: ${set.title}`;
    case 'paste':
      return `${cells} pasted`;
    case 'fill':
      return `${cells} filled`;
    case 'clear':
      return `${cells} cleared`;
    case 'change':
      return set.kind === 'cell' ? `${cells} changed together` : kindWord(set, title || set.title);
    case 'letter':
      return `Written to ${COUNT(set.lines, first?.enrolment ? names.student(first.enrolment) : 'one student', 'students')}${title ? `, about ${title}` : ''}`;
    case 'exception':
      return `${set.title === 'ended' || set.title === 'Ended by their day' ? `Exception ${set.title.toLowerCase()}` : `Exception, ${set.title}`}: ${cells}`;
    case 'undo':
      return `${set.kind === 'cell' ? cells : kindWord(set)} put back by undo`;
    case 'redo':
      return `${set.kind === 'cell' ? cells : kindWord(set)} made again`;
    case 'restore':
      return `${set.kind === 'cell' ? cells : kindWord(set)} put back from the journal`;
  }
  switch (set.kind) {
    case 'cell':
      return first?.enrolment ? `${names.student(first.enrolment)}, ${title}` : cells;
    case 'note':
      return `Staff note: ${first?.enrolment ? names.student(first.enrolment) : ''}${title ? `, ${title}` : ''}`;
    case 'release':
      return `${title} released to ${COUNT(set.students, 'one student', 'students')}`;
    case 'withdraw':
      return `${title} withdrawn from ${COUNT(set.students, 'one student', 'students')}`;
    case 'feedback-release':
      return `Feedback on ${title} ${first?.becomes === null ? 'withdrawn from' : 'released to'} ${COUNT(set.students, 'one student', 'students')}`;
    case 'enrol':
      return first?.was
        ? `${COUNT(set.lines, first.enrolment ? names.student(first.enrolment) : 'one student', 'students')} moved, or given extra time`
        : `${COUNT(set.lines, 'one student', 'students')} enrolled`;
    default:
      return kindWord(set, title, names);
  }
}

const NOBODY: Names = { zone: 'UTC', student: () => 'a student', assessment: (id) => id, note: () => undefined };

function kindWord(set: JournalSet, title = '', names: Names = NOBODY): string {
  const words: Record<JournalKind, string> = {
    rules: 'The rules changed',
    assessment:
      set.shown[0]?.was == null
        ? `${title || 'An assessment'} was made`
        : set.shown[0].becomes === null
          ? `${title || 'An assessment'} was deleted`
          : `${title || 'An assessment'} was changed`,
    order: 'The assessments in another order',
    override: `Final grade${set.shown[0]?.enrolment ? ` of ${names.student(set.shown[0].enrolment)}` : ''} set by hand`,
    section: 'A section of the book',
    'section-variant': 'A section’s variant of the rules',
    calculation: 'The calculation changed',
    staff: 'Who works in the book',
    group: 'A group of students',
    settings: 'The book’s settings',
    book: 'The book was made',
    note: 'A staff note',
    cell: 'Cells',
    release: 'A release',
    withdraw: 'A withdrawal',
    'feedback-release': 'A release of feedback',
    'planned-release': `A release of ${title || 'an assessment'} ${set.shown[0]?.becomes === null ? 'called off' : 'planned'}`,
    enrol: 'Students of the book',
    instructions: `What ${title || 'an assessment'} asks for`,
    rubric: `The rubric of ${title || 'an assessment'}`,
    feedback: `End note${set.shown[0]?.enrolment ? ` for ${names.student(set.shown[0].enrolment)}` : ''}${title ? `, ${title}` : ''}`,
    'feedback-attachment': `Given with the feedback${set.shown[0]?.enrolment ? ` for ${names.student(set.shown[0].enrolment)}` : ''}${title ? `, ${title}` : ''}`,
    marks: `Marks on the work${set.shown[0]?.enrolment ? ` of ${names.student(set.shown[0].enrolment)}` : ''}${title ? `, ${title}` : ''}`,
    levels: `Levels${set.shown[0]?.enrolment ? ` of ${names.student(set.shown[0].enrolment)}` : ''}${title ? `, ${title}` : ''}`,
    letter: `Written to ${set.shown[0]?.enrolment ? names.student(set.shown[0].enrolment) : 'students'}`,
    question: `A question of ${set.shown[0]?.enrolment ? names.student(set.shown[0].enrolment) : 'a student'}`,
    submission: `Work${set.shown[0]?.enrolment ? ` of ${names.student(set.shown[0].enrolment)}` : ''} handed in, moved or taken back`,
  };
  return words[set.kind];
}
