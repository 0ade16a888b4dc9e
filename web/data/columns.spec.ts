import fc from 'fast-check';
import { FLAG, type CellColumns, type RowUpdate, type Standing } from '../worker/protocol';
import { draftsIn, isNewer, looksTheSame, outOf } from './columns';

const WIDTH = 4;
const number = fc.oneof(fc.constant(NaN), fc.integer({ min: 0, max: 400 }));
const column = <T>(each: fc.Arbitrary<T>): fc.Arbitrary<T[]> => fc.array(each, { minLength: WIDTH, maxLength: WIDTH });
const row: fc.Arbitrary<CellColumns> = fc
  .record({
    state: column(fc.integer({ min: 0, max: 6 })),
    flags: column(fc.integer({ min: 0, max: 127 })),
    counts: column(number),
    marked: column(number),
    taken: column(number),
    due: column(number),
    version: column(fc.integer({ min: 0, max: 9 })),
  })
  .map((r) => ({
    state: Uint8Array.from(r.state),
    flags: Uint8Array.from(r.flags),
    counts: Float64Array.from(r.counts),
    marked: Float64Array.from(r.marked),
    taken: Float64Array.from(r.taken),
    due: Float64Array.from(r.due),
    version: Int32Array.from(r.version),
  }));
const standing: Standing = {
  percent: '71.5',
  letter: 'B',
  low: '60',
  high: '80',
  at: 71.5,
  lowAt: 60,
  highAt: NaN,
  shown: null,
};

/** A sheet in which the row stands second. */
function sheet(cells: CellColumns): CellColumns {
  const all = structuredClone(cells);
  for (const key of Object.keys(cells) as (keyof CellColumns)[]) {
    const Type = cells[key].constructor as new (n: number) => CellColumns[typeof key];
    const twice = new Type(2 * WIDTH);
    twice.set(cells[key] as never, WIDTH);
    Object.assign(all, { [key]: twice });
  }
  return all;
}
const update = (cells: CellColumns, s: Standing = standing): RowUpdate => ({ student: 's2', cells, standing: s });

describe('columns of cells', () => {
  it('show the same where nothing but the versions is another', () => {
    fc.assert(
      fc.property(row, fc.integer({ min: 0, max: WIDTH - 1 }), (cells, i) => {
        const kept = structuredClone(cells);
        kept.version[i]!++;
        expect(looksTheSame(sheet(cells), update(kept), WIDTH, { ...standing })).toBe(true);
      }),
    );
  });

  it('do not where anything that is drawn is another', () => {
    const drawn = ['state', 'flags', 'counts', 'marked', 'taken', 'due'] as const;
    fc.assert(
      fc.property(row, fc.integer({ min: 0, max: WIDTH - 1 }), fc.constantFrom(...drawn), (cells, i, key) => {
        const kept = structuredClone(cells);
        kept[key][i] = Number.isNaN(kept[key][i]!) ? 1 : kept[key][i]! + 1;
        expect(looksTheSame(sheet(cells), update(kept), WIDTH, standing)).toBe(false);
      }),
    );
  });

  it('do not where the standing is another, or was not there', () => {
    fc.assert(
      fc.property(
        row,
        fc.constantFrom<Partial<Standing>>({ percent: '71.6' }, { letter: null }, { highAt: 3 }),
        (cells, other) => {
          expect(looksTheSame(sheet(cells), update(cells, { ...standing, ...other }), WIDTH, standing)).toBe(false);
          expect(looksTheSame(sheet(cells), update(cells), WIDTH, undefined)).toBe(false);
        },
      ),
    );
  });

  it('count as drafts what has a score and is not out as it is', () => {
    fc.assert(
      fc.property(row, (cells) => {
        const scored = [...cells.state].filter((s, i) => (s === 4 || s === 5) && !(cells.flags[i]! & FLAG.released));
        expect(draftsIn(cells, 0, WIDTH)).toBe(scored.length);
      }),
    );
  });

  it('take a later version for newer, and of the same version what is out differently', () => {
    fc.assert(
      fc.property(row, fc.integer({ min: 0, max: WIDTH - 1 }), (cells, i) => {
        const version = cells.version[i]!;
        const out = outOf(cells.flags[i]!);
        expect(isNewer(cells, i, { version: version + 1, releaseState: out })).toBe(true);
        expect(isNewer(cells, i, { version: version - 1, releaseState: (out + 1) % 3 })).toBe(false);
        expect(isNewer(cells, i, { version, releaseState: out })).toBe(false);
        expect(isNewer(cells, i, { version, releaseState: (out + 1) % 3 })).toBe(true);
      }),
    );
  });
});
