import type { Rubric, RubricMarks } from '@core/rubric/document';
import type { ArrivalRow } from '../../../data/work/arrival-rows';
import { laterMarks, withMarks } from '../../../data/work/level-drafts';
import { filledIn, matching } from '../../../data/work/phrases';
import { fromBase64, toBase64 } from '../../../data/work/outbox/note-outbox';
import { placeOnRule } from '../../../ui/chart/rule-place';
import { roomKeys } from '../marking-keys';
import { countsOf, isUnopened, openedWords, rowWords, unfinishedRow } from './marking-rows';

const levels = (...points: number[]) => points.map((p, i) => ({ id: `l${i}`, points: p, words: '' }));
const criterion = (id: string, ...points: number[]) => ({ id, title: id, stands: 'counts' as const, levels: levels(...points) }); // prettier-ignore
const PIT: Rubric = { by: 'points', criteria: [criterion('a', 1, 3), criterion('b', 2, 4)] };
const row = (kind: ArrivalRow['kind'], more: Partial<ArrivalRow> = {}): ArrivalRow =>
  ({ kind, state: '9.0', look: 'pencil', secondLook: false, submissions: [], openedBy: [], ...more }) as never;

describe('a row of the room', () => {
  it('of work that is marked in part waits still, and says how far it is', () => {
    expect(unfinishedRow(row('draft'), PIT, { a: { points: 1 } })).toMatchObject({ kind: 'to mark', state: '1 of 2' });
    const whole: RubricMarks[] = [{}, { a: { points: 1 }, b: { leftOut: true } }];
    for (const marks of whole) expect(unfinishedRow(row('draft'), PIT, marks).kind).toBe('draft');
    expect(unfinishedRow(row('released'), PIT, { a: { points: 1 } }).kind).toBe('released');
  });
  it('says that a second look is wanted before anything else', () => {
    expect(rowWords(row('draft', { secondLook: true }))).toBe('second look');
    expect(rowWords(row('begun', { state: 'begun, not handed in' }))).toBe('begun');
    expect(countsOf([row('draft'), row('released'), row('missing')])).toBe('1 draft, 1 released, 1 missing');
  });
  it('has no keys where somebody turned them off, and none that score for those who only read', () => {
    expect(roomKeys({ rubric: true, scores: true, bare: false })).toEqual({ foot: [], all: [] });
    const reads = roomKeys({ rubric: true, scores: false, bare: true }).all.map((k) => k.key);
    expect(reads).toContain('N');
    expect(reads).not.toContain('1–9');
  });
});

describe('points on a rule', () => {
  it('lie at even distances by level, and between two by points', () => {
    const c = criterion('a', 1, 3, 4);
    expect([0, 0.5, 1, 2, 3, 4, 9].map((p) => Math.round(placeOnRule(c, p)))).toEqual([0, 17, 33, 50, 67, 100, 100]);
    expect([0, 5, 10].map((p) => placeOnRule(criterion('a', 0, 10), p))).toEqual([0, 50, 100]);
    expect([0, 2].map((p) => placeOnRule(criterion('a', 2), p))).toEqual([0, 100]);
    expect(placeOnRule(criterion('a', 0), 0)).toBe(0);
  });
});

describe('what is told of levels', () => {
  const mark = (name: string, version: number) => ({ criterion: name, version, mark: null, by: '', at: '' });
  it('takes the place of what is older, criterion by criterion', () => {
    const next = laterMarks([mark('a', 3), mark('b', 1)], [mark('a', 2), mark('b', 2), mark('c', 1)]);
    expect(next.map((m) => `${m.criterion}${m.version}`)).toEqual(['a3', 'b2', 'c1']);
    expect(withMarks({ a: { points: 1 }, b: { points: 2 } }, [{ criterion: 'a', mark: null }])).toEqual({
      b: { points: 2 },
    });
  });
});

describe('phrases', () => {
  const phrase = (words: string) => ({
    id: words,
    scope: 'own' as const,
    words,
    version: 1,
    by: '',
    mine: true,
    uses: 0,
  });
  it('are found by the beginning of any word, whatever its accents, and filled in', () => {
    const all = ['Give the hand-texture.', 'Élan, {given}!', 'Well argued'].map(phrase);
    const found = (typed: string) => matching(all, typed).map((f) => f.words[0]);
    expect([found('TEX'), found('elan'), found('rgued'), found('')]).toEqual([['G'], ['É'], [], ['G', 'É', 'W']]);
    expect(filledIn('{given}, {given}: {family}', 'Ruben')).toBe('Ruben, Ruben: {family}');
  });
  it('and notes cross the wire byte for byte', () => {
    const bytes = Uint8Array.from({ length: 20_000 }, (_, i) => (i * 7) % 256);
    expect(fromBase64(toBase64(bytes))).toEqual(bytes);
  });

  it('say who opened the work and who looked it through, oneself first', () => {
    const came = { submissions: [{ state: 'handed-in' }] as ArrivalRow['submissions'] };
    const opened = (...openedBy: ArrivalRow['openedBy']) => openedWords(row('to mark', { ...came, openedBy }));
    expect(opened()).toBe('unopened');
    expect(opened({ by: 'A. Reed', through: false }, { by: 'you', through: false })).toBe('opened by you, A. Reed');
    expect(opened({ by: 'you', through: true }, { by: 'A. Reed', through: false })).toBe(
      'looked through by you, opened by A. Reed',
    );
    const mine = row('to mark', { ...came, state: 'to mark', openedBy: [{ by: 'you', through: true }] });
    expect([rowWords(mine), isUnopened(mine)]).toEqual(['looked through', false]);
  });
});
