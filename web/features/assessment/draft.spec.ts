import type { AssessmentWhole } from '@contract/assessments';
import { changesOf, draftOf, faultOf, placedWith, withMore } from './draft';

const was: AssessmentWhole = {
  id: 'moss',
  title: 'Moss',
  category: 'work',
  points: 20,
  due: '2026-10-10T16:00:00.000Z',
  closes: null,
  takesWork: false,
  work: {},
  shown: true,
  more: { late: 'steady', attempts: { use: 'best', retakeCap: 80 } },
  version: 3,
  archived: false,
  scored: 2,
  released: 1,
};

describe('a draft of an assessment', () => {
  it('sends only what is other than what is kept', () => {
    expect(changesOf(was, draftOf(was))).toEqual({});
    const reordered = { ...draftOf(was), more: { attempts: { retakeCap: 80, use: 'best' as const }, late: 'steady' } };
    expect(changesOf(was, reordered)).toEqual({});
    expect(changesOf(was, { ...draftOf(was), points: 25, more: withMore(was.more, 'late', undefined) })).toEqual({
      points: 25,
      more: { attempts: { use: 'best', retakeCap: 80 } },
    });
  });

  it('says what cannot be kept', () => {
    const d = draftOf(was);
    expect(faultOf(d)).toBe('');
    expect(faultOf({ ...d, title: ' ' })).toMatch(/title/);
    expect(faultOf({ ...d, points: NaN })).toMatch(/number/);
    expect(faultOf({ ...d, points: 0 })).toMatch(/0 points/);
    expect(faultOf({ ...d, points: 0, more: { counts: false } })).toBe('');
    expect(faultOf({ ...d, closes: '2026-10-09T16:00:00.000Z' })).toMatch(/before it is due/);
    expect(faultOf({ ...d, more: { attempts: { retakeCap: NaN } } })).toMatch(/percentage/);
  });

  it('stands in its own place in the book that is tried', () => {
    const placed = [
      { category: 'work', item: { id: 'moss', type: 'item' as const, points: 20 } },
      { category: 'work', item: { id: 'reed', type: 'item' as const, points: 10 } },
    ];
    expect(placedWith(placed, 'moss', { ...draftOf(was), points: 25 })).toEqual([
      {
        category: 'work',
        item: {
          id: 'moss',
          type: 'item',
          points: 25,
          due: '2026-10-10T16:00:00.000Z',
          late: 'steady',
          attempts: { use: 'best', retakeCap: 80 },
        },
      },
      placed[1],
    ]);
  });
});
