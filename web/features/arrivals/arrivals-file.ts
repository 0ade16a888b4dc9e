import { csvText } from '@core/export/csv';
import type { ArrivalRow } from '../../data/work/arrival-rows';

const HEADS = [
  'Number',
  'Family name',
  'First name',
  'Section',
  'State',
  'Handed in',
  'Minutes late',
  'Attempt',
  'Receipt',
];

/** What is known of each student beside the list. */
interface Person {
  number: string;
  family: string;
  given: string;
}

/**
 * The list as a file, for the record: moments in UTC as RFC 3339. `presence`: handing in shows that one was there, and a
 * column says so.
 */
export function arrivalsCsv(
  rows: readonly ArrivalRow[],
  people: ReadonlyMap<string, Person>,
  presence: boolean,
): string {
  const lines = rows.map((r) => {
    const person = people.get(r.enrolment) ?? { number: '', family: r.name, given: '' };
    const last = r.submissions.filter((s) => s.state === 'handed-in').at(-1);
    const over = last?.handedInAt && r.due !== null ? Date.parse(last.handedInAt) - Date.parse(r.due) : 0;
    return [
      ...[person.number, person.family, person.given, r.section, r.state, last?.handedInAt ?? ''],
      over > 0 ? String(Math.ceil(over / 60_000)) : '',
      last?.attempt ? String(last.attempt) : '',
      last?.receipt ?? '',
      ...(presence ? [last ? 'yes' : ''] : []),
    ];
  });
  return csvText([[...HEADS, ...(presence ? ['Was there'] : [])], ...lines]);
}
