import { TestBed } from '@angular/core/testing';
import { beforeEach, describe, expect, it } from 'vitest';
import type { PlannedReleases } from '@contract/planned-releases';
import { openPage } from '../testing/open-book';
import { soon } from '../testing/soon';
import { PlannedList } from './planned-list';

const planned = (...ids: string[]): PlannedReleases =>
  ids.map((id) => ({
    ...{
      id,
      assessment: 'moss',
      students: 2,
      parts: ['score'],
      at: '2026-11-26T08:00:00Z',
      by: 'R. Aldous',
      fault: '',
    },
  }));

describe('the planned releases', () => {
  let page: Awaited<ReturnType<typeof openPage<PlannedList>>>;
  let answers: ((list: PlannedReleases) => void)[];
  let asked: number;
  let calledOff: string[];
  const lines = (): Element[] => [...(page.fixture.nativeElement as HTMLElement).querySelectorAll('li')];
  beforeEach(async () => {
    answers = [];
    asked = 0;
    calledOff = [];
    page = await openPage(
      PlannedList,
      ({ path }) => {
        calledOff.push(path);
        return {};
      },
      // What stands there at first is answered at once, what is asked later when the test says.
      (path) => {
        if (!path.endsWith('/planned-releases')) return undefined;
        return asked++ === 0 ? planned('first') : new Promise<PlannedReleases>((done) => answers.push(done));
      },
    );
    await soon(() => expect(lines()).toHaveLength(1));
  });

  it('stay as they are while they are asked for anew, so that none goes from under a click', async () => {
    const [line] = lines();
    page.fixture.componentRef.setInput('turn', 1);
    TestBed.tick();
    await soon(() => expect(answers).toHaveLength(1));
    expect(lines()).toEqual([line]);
    line!.querySelector('button')!.click();
    await soon(() => expect(calledOff).toEqual([expect.stringContaining('/planned-releases/first')]));
    await soon(() => expect(answers).toHaveLength(2));
    expect(lines()).toEqual([line]);
    answers[1]!([]);
    await soon(() => expect(lines()).toEqual([]));
  });
});
