import type { PeoplePage } from '@contract/people';
import { day } from '../../ui/text/dates';

type Student = PeoplePage['students'][number];

/** "North since 3 Sept; South to 3 Sept": every place with its dates, the last first. */
export function stayWords({ stays }: Student, titleOf: (section: string | null) => string, zone: string): string {
  const words = stays.map(({ section, since, until }) => {
    const when = until ? `${day(since, zone)} to ${day(until, zone)}` : `since ${day(since, zone)}`;
    return `${titleOf(section) || 'no section'} ${when}`;
  });
  return words.reverse().join('; ');
}

/** Whether a student can sign in; where one can there is nothing to say. */
export const ACCOUNT_WORDS: Record<Student['account'], string> = {
  ready: '',
  invited: 'invited, no password yet',
  none: 'cannot sign in yet',
};
