import { Scribbles } from './unreadable-entries';

describe('what could not be read', () => {
  afterEach(() => localStorage.clear());

  it('stays on the machine by person and book, until it is put right or given up', () => {
    const first = new Scribbles();
    first.open('p-1', 'fens');
    first.keep([['s1 moss', { text: '7..', says: 'no score' }]]);
    const again = new Scribbles();
    again.open('p-1', 'fens');
    expect([...again.all()]).toEqual([['s1 moss', { text: '7..', says: 'no score' }]]);
    again.open('p-2', 'fens');
    expect(again.all().size).toBe(0);
    expect([again.count('p-1'), again.count('p-2')]).toEqual([1, 0]);
    again.open('p-1', 'fens');
    again.drop(['s1 moss', 's2 moss']);
    expect([again.all().size, again.count('p-1')]).toEqual([0, 0]);
  });

  it('is gone from the machine after signing out, and only one’s own', () => {
    const scribbles = new Scribbles();
    for (const person of ['p-1', 'p-2']) {
      scribbles.open(person, 'fens');
      scribbles.keep([['s1 moss', { text: 'x', says: '' }]]);
    }
    scribbles.clear('p-1');
    expect([scribbles.count('p-1'), scribbles.count('p-2')]).toEqual([0, 1]);
  });

  it('opens empty where the machine holds nonsense', () => {
    localStorage.setItem('last-tally-scribbles p-1 fens', '{nonsense');
    const scribbles = new Scribbles();
    scribbles.open('p-1', 'fens');
    expect(scribbles.all().size).toBe(0);
  });
});
