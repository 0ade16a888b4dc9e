import { fromQuery, DEFAULT_VIEW, sound, toQuery, type ViewSettings } from './view-settings';

const full: ViewSettings = {
  section: 'north',
  group: 'g-1',
  find: 'ek lu',
  only: 'missing',
  where: 'moss',
  below: 'B',
  sort: { by: 'standing', down: true },
  asMarked: true,
  hidden: ['reed', 'bog'],
  order: ['bog', 'moss'],
  folded: ['work'],
  criteria: ['moss'],
  roomy: true,
  rank: true,
};

describe('a look in the address', () => {
  it('comes back as it was, and a plain one is no text', () => {
    expect(fromQuery(toQuery(full))).toEqual(full);
    expect([toQuery(DEFAULT_VIEW), fromQuery('')]).toEqual(['', DEFAULT_VIEW]);
  });

  it('leaves out what is not understood or not there any more', () => {
    expect(fromQuery('only=nonsense&sort=-moss&other=1')).toEqual({
      ...DEFAULT_VIEW,
      sort: { by: 'moss', down: true },
    });
    const known = { sections: [], groups: [], items: ['moss'], categories: [], bands: ['A'] };
    expect(sound(full, known)).toEqual({
      ...full,
      section: null,
      group: null,
      below: null,
      hidden: [],
      order: ['moss'],
      folded: [],
    });
    expect(sound({ ...DEFAULT_VIEW, sort: { by: 'gone', down: true } }, known).sort).toEqual(DEFAULT_VIEW.sort);
  });
});
