import type { CriterionMarkState, Marking } from '@contract/work/marking';
import { laterDrafts } from './level-drafts';

const mark = (criterion: string, version: number, points: number): CriterionMarkState => ({
  ...{ criterion, version, by: 'Brandvold', at: '2026-11-24T10:00:00Z' },
  mark: { points },
});
const marking = (version: number, drafts: Record<string, CriterionMarkState[]>): Marking => ({
  rubric: { version, rubric: null } as Marking['rubric'],
  works: Object.keys(drafts).map((enrolment) => ({ enrolment, work: 'w' })),
  drafts: Object.entries(drafts).map(([enrolment, marks]) => ({ ...{ assessment: 'pit', enrolment, work: 'w' }, rubric: version, marks })), // prettier-ignore
});
const pointsOf = ({ drafts }: Marking): Record<string, unknown> =>
  Object.fromEntries(drafts.map((d) => [d.enrolment, Object.fromEntries(d.marks.map((m) => [m.criterion, m.mark]))]));

describe('levels of everybody that are asked for anew', () => {
  it('take none back that came while they were on their way', () => {
    const known = marking(1, { abara: [mark('sketch', 3, 4), mark('words', 1, 2)], quill: [mark('sketch', 1, 1)] });
    const overtaken = marking(1, { abara: [mark('sketch', 2, 1), mark('words', 2, 3)] });
    expect(pointsOf(laterDrafts(known, overtaken, (d) => d.enrolment === 'quill'))).toEqual({
      abara: { sketch: { points: 4 }, words: { points: 3 } },
      quill: { sketch: { points: 1 } },
    });
  });

  it('are gone where the server has none any more, as when the work was moved', () => {
    const known = marking(1, { abara: [mark('sketch', 3, 4)], quill: [mark('sketch', 1, 1)] });
    const moved = marking(1, { abara: [mark('sketch', 3, 4)] });
    expect(pointsOf(laterDrafts(known, moved, () => false))).toEqual({ abara: { sketch: { points: 4 } } });
  });

  it('are taken as they come where the rubric is another', () => {
    const known = marking(1, { abara: [mark('sketch', 3, 4)] });
    const anew = marking(2, { abara: [mark('sketch', 1, 0)] });
    expect(laterDrafts(known, anew, () => true)).toBe(anew);
  });
});
