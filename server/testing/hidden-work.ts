import type { EntryState } from '@contract/scores';
import type { Arrivals, Submission } from '@contract/work/submissions';
import { HandingIn } from './hand-in';
import { NoteWriter } from './note-writer';
import { operation, type Person } from './person';
import { testSchool, type TestSchool } from './school';

export const SCORE = 7.7731;

/** An assessment whose names are hidden, in a school of its own, with one piece of work that all is said of. */
export interface HiddenWork {
  school: TestSchool;
  handing: HandingIn;
  /** The assessment's id. */
  id: string;
  ada: Submission;
  /** The book as it is named where names are hidden. */
  veiled: string;
  /** What stands in the place of Ada's id. */
  alias: string;
  /** Gives Ada's work a score, by a marker where nobody else is said. */
  scored(points: number, version: number, by?: Person): Promise<EntryState>;
}

/** Ada's and Ben's work is handed in; hers is scored, written on, noted and asked about. */
export async function hiddenWork(): Promise<HiddenWork> {
  const school = await testSchool();
  const handing = new HandingIn(school);
  const id = await handing.assessment({}, { namesHidden: true, hears: 'all' });
  await handing.addFile(id, 'adler-pit.txt', Buffer.from('layers'));
  const ada = await handing.handIn(id, school.ada, 'words of the work');
  await handing.handIn(id, school.ben, 'words of another’s');
  await school.ada.must('POST', `${handing.at(id)}/thread`, {
    operation: operation(),
    text: 'words of a question',
    seen: 0,
  });
  const veiled = `fens~${id}`;
  const sheet = await school.marker.must<Arrivals>('GET', `/books/${veiled}/assessments/${id}/arrivals`);
  const alias = sheet.students.find((s) => s.submissions.some((x) => x.id === ada.id))!.enrolment;
  const scored = (points: number, version: number, by = school.marker): Promise<EntryState> => {
    const write = { operation: operation(), version, change: { kind: 'score', points } };
    return by.must('PUT', `/books/${veiled}/entries/${id}/${alias}`, write);
  };
  await scored(SCORE, 1);
  const note = new NoteWriter(school.marker, `/books/${veiled}/end-notes/${id}/${alias}/${ada.id}`);
  note.type('words of feedback');
  await note.send();
  await school.marker.must('PUT', `/books/${veiled}/staff-notes/${alias}/${id}`, {
    ...{ operation: operation(), version: 0, note: 'words beside', secondLook: true },
  });
  // And by name, what is not about this work.
  await school.put('moss', school.adaId, 0, { kind: 'score', points: 16 });
  return { school, handing, id, ada, veiled, alias, scored };
}
