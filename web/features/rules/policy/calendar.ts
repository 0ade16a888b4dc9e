import type { Closure } from '@core/policy/document';
import { dayWords, readDays } from '../words/day-list';
import type { Draft } from '../draft';
import { DAYS } from '../sentences/lateness';
import type { Sentence } from '../sentences/sentence';
import { asSchool, type SchoolDraft } from './policy-draft';

const put = (draft: Draft, calendar: Partial<SchoolDraft['calendar']>): Draft => {
  const school = asSchool(draft);
  return { ...school, calendar: { ...school.calendar, ...calendar } } as Draft;
};

function oneDay(text: string): { day: string } | { message: string } {
  const read = readDays(text);
  if ('message' in read) return read;
  return read.dates.length === 1 ? { day: read.dates[0]! } : { message: 'One date, such as 24 Dec 2026.' };
}

/** The day after the last closure, or the first of next year's: somewhere to begin. */
function nextClosure(closures: readonly Closure[], from: string): Closure {
  const last = [...closures.map((c) => c.to), from].sort().pop()!;
  const day = new Date(Date.parse(last) + 86_400_000).toISOString().slice(0, 10);
  return { title: 'Closed', from: day, to: day };
}

function closure(draft: Draft, c: Closure, n: number): Sentence {
  const { closures } = asSchool(draft).calendar;
  const set = (keys: Partial<Closure>): Draft =>
    put(draft, { closures: closures.map((x, i) => (i === n ? { ...x, ...keys } : x)) });
  return {
    id: `closure ${n}`,
    about: [`/calendar/closures/${n}`],
    pieces: [
      {
        kind: 'word',
        label: `What closure ${n + 1} is called`,
        value: c.title,
        set: (title) =>
          title === '' || title.length > 100
            ? { message: 'A closure is called something, in at most 100 letters.' }
            : set({ title }),
      },
      ', from',
      {
        kind: 'word',
        label: `First day of closure ${n + 1}`,
        value: dayWords([c.from]),
        set: (text) => {
          const read = oneDay(text);
          // Its length goes along where the last day would come before the first.
          return 'message' in read ? read : set({ from: read.day, to: c.to < read.day ? read.day : c.to });
        },
      },
      ...(c.to === c.from ? ['for the day, or to'] : ['to']),
      {
        kind: 'word',
        label: `Last day of closure ${n + 1}`,
        value: dayWords([c.to]),
        set: (text) => {
          const read = oneDay(text);
          if ('message' in read) return read;
          return read.day < c.from ? { message: 'It ends before it begins.' } : set({ to: read.day });
        },
      },
      '.',
      {
        kind: 'act',
        text: 'take out',
        label: `Take ${c.title} out`,
        does: () => put(draft, { closures: closures.filter((_, i) => i !== n) }),
      },
    ],
  };
}

/** The calendar in sentences. `today`: where a first closure begins. */
export function calendarSentences(draft: Draft, today: string): Sentence[] {
  const { days, closures } = asSchool(draft).calendar;
  return [
    {
      id: 'calendar days',
      about: ['/calendar/days'],
      pieces: [
        'Lateness does not count',
        {
          kind: 'many',
          label: 'Days of the week on which the school is closed',
          value: days.map(String),
          choices: DAYS,
          none: 'no day of the week',
          set: (next) => put(draft, { days: next.map(Number).sort((a, b) => a - b) }),
        },
        ', nor the days on which the school is closed:',
        ...(closures.length === 0 ? ['none yet.'] : []),
        {
          kind: 'act',
          text: 'a closure more',
          label: 'A closure more',
          does: () => put(draft, { closures: [...closures, nextClosure(closures, today)] }),
        },
      ],
    },
    ...closures.map((c, n) => ({ ...closure(draft, c, n), depth: 1 })),
  ];
}
