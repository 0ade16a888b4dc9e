import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import { beforeEach, describe, expect, it } from 'vitest';
import type { Arrivals } from '@contract/work/submissions';
import { openPage } from '../../testing/open-book';
import { soon } from '../../testing/soon';
import { ArrivalList } from './arrival-list';

@Component({ template: '', providers: [ArrivalList], changeDetection: ChangeDetectionStrategy.OnPush })
class Host {
  readonly list = inject(ArrivalList);
}

/** What the server read before anybody had opened the work. */
const UNOPENED: Arrivals = {
  ...{ asOf: '2026-11-24T09:00:00Z', presence: false },
  students: [
    {
      ...{ enrolment: 's1', due: null, open: true, openAgain: null, openedBy: [], late: null },
      submissions: [
        {
          ...{ id: 'work', state: 'handed-in', typed: '', link: '', statement: null, receipt: 'R-1', attempt: 1 },
          ...{ begunAt: '2026-11-23T09:00:00Z', handedInAt: '2026-11-23T09:10:00Z', files: [], by: null },
        },
      ],
    },
  ],
} as unknown as Arrivals;

describe('the list of what came in', () => {
  let list: ArrivalList;
  let answers: ((arrivals: Arrivals) => void)[];
  beforeEach(async () => {
    answers = [];
    const page = await openPage(
      Host,
      () => ({}),
      (path) =>
        path.endsWith('/arrivals')
          ? new Promise<Arrivals>((done) => answers.push(done))
          : path.endsWith('/threads')
            ? []
            : undefined,
    );
    list = page.fixture.componentInstance.list;
    list.assessment.set('moss');
    TestBed.tick();
    await soon(() => expect(answers).toHaveLength(1));
  });
  const openedBy = (): string[] =>
    list.rows().flatMap((r) => r.openedBy.map((o) => `${o.by}${o.through ? ' through' : ''}`));

  it('keeps who opened a work while it was asked for, whatever the answer knew of it', async () => {
    list.noteOpened({ enrolment: 's1', work: 'work', by: 'you', through: false });
    answers[0]!(UNOPENED);
    await soon(() => expect(openedBy()).toEqual(['you']));
    list.lookAgain();
    TestBed.tick();
    await soon(() => expect(answers).toHaveLength(2));
    list.noteOpened({ enrolment: 's1', work: 'work', by: 'A. Reed', through: true });
    expect(openedBy()).toEqual(['you', 'A. Reed through']);
    answers[1]!({ ...UNOPENED, asOf: '2026-11-24T09:01:00Z' });
    await soon(() => expect(list.asOf()).toBe('2026-11-24T09:01:00Z'));
    expect(openedBy()).toEqual(['you', 'A. Reed through']);
  });
});
