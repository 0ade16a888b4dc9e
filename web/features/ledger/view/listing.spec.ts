import { emptyColumns } from '../../../worker/columns';
import { FLAG, STATES, type Standing } from '../../../worker/protocol';
import { list, ranks, type Listed } from './listing';
import { ONLY, DEFAULT_VIEW, type ViewSettings } from './view-settings';

const NAMES = [
  { family: 'Éklund', given: 'Signe', number: '1', section: 'north' },
  { family: 'Birch', given: 'Ben', number: '22', section: 'south' },
  { family: 'Crane', given: 'Cleo', number: '3', section: 'north' },
];
const standing = (at: number): Standing => ({
  percent: String(at),
  letter: null,
  low: null,
  high: null,
  shown: null,
  at,
  lowAt: at,
  highAt: at,
});

function book(): Listed {
  const cells = emptyColumns(6);
  const put = (at: number, state: (typeof STATES)[number], counts: number, flags = 0): void => {
    cells.state[at] = STATES.indexOf(state);
    cells.counts[at] = counts;
    cells.flags[at] = flags;
  };
  // Éklund: a draft and work to mark; Birch: missing, and released late work; Crane: excused, and changed with its own date.
  put(0, 'scored', 1_500);
  put(1, 'pending', NaN);
  put(2, 'missing', 0);
  put(3, 'scored', 900, FLAG.released);
  cells.taken[3] = 200;
  put(4, 'excused', NaN);
  put(5, 'scored', 1_200, FLAG.changed | FLAG.ownDate | FLAG.again);
  return {
    students: ['s0', 's1', 's2'],
    items: ['moss', 'reed'],
    cells,
    standings: [standing(61), standing(NaN), standing(88)],
    members: null,
    below: null,
    name: (s) => NAMES[s]!,
    noted: (student, place) => (student === 's1' && place === '*') || (student === 's2' && place === 'moss'),
    isNews: (student, item) => student === 's0' && item === 'reed',
  };
}
const rows = (look: Partial<ViewSettings>, more: Partial<Listed> = {}): number[] =>
  list({ ...DEFAULT_VIEW, ...look }, { ...book(), ...more }).rows;

describe('who is listed', () => {
  it.each([
    ['to-mark', [0, 2]],
    ['missing', [1]],
    ['late', [1]],
    ['excused', [2]],
    ['own-date', [2]],
    ['draft', [0]],
    ['since-release', [2]],
    ['note', [1, 2]],
    ['news', [0]],
  ] as const)('with %s', (only, expected) => expect(rows({ only })).toEqual(expected));
  it('knows every kind that is offered', () => expect(ONLY).toHaveLength(9));

  it('looks at one assessment alone, and not at hidden ones', () => {
    expect(rows({ only: 'to-mark', where: 'moss' })).toEqual([]);
    expect(rows({ only: 'draft', hidden: ['moss'] })).toEqual([]);
  });

  it('finds names without their accents, from either end, and by number', () => {
    expect([rows({ find: 'ekl' }), rows({ find: 'signe ek' }), rows({ find: '22' }), rows({ find: 'x' })]).toEqual([
      [0],
      [0],
      [1],
      [],
    ]);
  });

  it('says what each part hides and how many', () => {
    const look = { ...DEFAULT_VIEW, section: 'north', only: 'excused' as const };
    expect(list(look, book())).toEqual({
      rows: [2],
      hides: [
        { what: 'section', count: 1 },
        { what: 'only', count: 1 },
      ],
    });
    expect(rows({}, { members: new Set(['s1']) })).toEqual([1]);
    expect(rows({}, { below: 70 })).toEqual([0]);
  });

  it('orders by anything, those without a figure last both ways', () => {
    const by = (what: string, down: boolean): number[] => rows({ sort: { by: what, down } });
    expect([by('name', true), by('section', false)]).toEqual([
      [2, 1, 0],
      [0, 2, 1],
    ]);
    expect([by('standing', false), by('standing', true)]).toEqual([
      [0, 2, 1],
      [2, 0, 1],
    ]);
    expect([by('moss', true), by('reed', false)]).toEqual([
      [0, 1, 2],
      [1, 2, 0],
    ]);
  });

  it('gives equal standings the same rank', () =>
    expect(ranks([standing(80), standing(NaN), standing(90), standing(80)])).toEqual([2, undefined, 1, 2]));
});
