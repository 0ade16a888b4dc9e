import { FLAG, STATES } from '../../worker/protocol';
import { emptyColumns } from '../../worker/columns';
import { cellView, points } from './cell-view';

const options = {
  asMarked: false,
  trouble: null,
  unkept: false,
  unreadableText: null,
  noted: false,
  secondLook: false,
  news: false,
  day: () => '27 Nov',
};
function cell(
  state: (typeof STATES)[number],
  put: { counts?: number; marked?: number; taken?: number; due?: number; flags?: number } = {},
) {
  const columns = emptyColumns(1);
  columns.state[0] = STATES.indexOf(state);
  if (put.counts !== undefined) columns.counts[0] = put.counts * 100;
  if (put.marked !== undefined) columns.marked[0] = put.marked * 10_000;
  if (put.taken !== undefined) columns.taken[0] = put.taken * 100;
  if (put.due !== undefined) columns.due[0] = put.due;
  columns.flags[0] = put.flags ?? 0;
  return columns;
}
const see = (...args: Parameters<typeof cell>) => cellView(cell(...args), 0, options);

describe('how a cell looks', () => {
  it('tells a draft from what is released by more than colour', () => {
    expect(see('scored', { counts: 17, marked: 17 })).toMatchObject({
      text: '17.0',
      look: 'pencil score',
      words: '17.0, draft',
    });
    expect(see('scored', { counts: 17, marked: 17, flags: FLAG.released })).toMatchObject({
      look: 'ink score',
      words: '17.0, released',
    });
    expect(see('scored', { counts: 9, marked: 9, flags: FLAG.changed }).words).toBe('9.0, changed since released');
  });

  it('shows what counts with what lateness took, and what was marked when turned', () => {
    const late = cell('scored', { counts: 13, marked: 17, taken: 4 });
    expect(cellView(late, 0, options)).toMatchObject({ text: '13.0', taken: '−4' });
    expect(cellView(late, 0, { ...options, asMarked: true }).text).toBe('17.0');
  });

  it('tells nothing of what is hidden, but that something typed there was not kept', () => {
    const hidden = cell('scored', { counts: 17, marked: 17, flags: FLAG.hidden });
    expect(cellView(hidden, 0, options)).toMatchObject({ text: 'hidden', words: 'hidden until shown' });
    const refused = cellView(hidden, 0, { ...options, trouble: 'refused' });
    expect([refused.words, refused.look]).toEqual(['hidden until shown, could not be kept', 'names-hidden refused']);
    expect(cellView(hidden, 0, { ...options, unkept: true }).words).toBe('hidden until shown, not kept yet');
  });

  it('says a state in its word', () => {
    expect(['missing', 'pending', 'excused', 'awaiting', 'blank'].map((s) => see(s as 'missing').text)).toEqual([
      'missing',
      'to mark',
      'excused',
      'awaited',
      '',
    ]);
    expect(see('blank', { due: 1, flags: FLAG.ownDate })).toMatchObject({ text: 'due 27 Nov', words: 'due 27 Nov' });
    expect(see('missing', { flags: FLAG.byHand | FLAG.dropped }).words).toBe('missing, by hand, dropped');
  });

  it('says what is not kept, refused or to be chosen', () => {
    const one = cell('scored', { counts: 5, marked: 5 });
    expect(cellView(one, 0, { ...options, unkept: true }).words).toContain('not kept yet');
    expect(cellView(one, 0, { ...options, trouble: 'refused' }).look).toContain('refused');
    expect(cellView(one, 0, { ...options, trouble: 'clash' }).text).toBe('which?');
  });

  it('writes points with one decimal, two where needed', () =>
    expect([1300, 1225, 0, 50].map(points)).toEqual(['13.0', '12.25', '0.0', '0.5']));

  it('shows what could not be read as it was typed, and says what is kept', () => {
    expect(cellView(cell('scored', { counts: 17 }), 0, { ...options, unreadableText: '7..5' })).toMatchObject({
      text: '7..5',
      look: 'refused unreadable',
      words: '7..5, which cannot be read; kept now: 17.0, draft',
    });
  });

  it('says that there is a note, a flag or news', () => {
    const with_ = (more: object) => cellView(cell('missing'), 0, { ...options, ...more }).words;
    expect(with_({ noted: true })).toBe('missing, has a note');
    expect(with_({ noted: true, secondLook: true, news: true })).toBe(
      'missing, second look, changed since you were here',
    );
  });
});
