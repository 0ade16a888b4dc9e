import { UnreadableEntries } from './unreadable-entries';

describe('what could not be read', () => {
  afterEach(() => localStorage.clear());

  it('is read as an earlier version of the page wrote it', () => {
    localStorage.setItem('last-tally-scribbles p-1 fens', '[["s1 moss",{"text":"7..","says":"no score"}]]');
    const now = new UnreadableEntries();
    now.open('p-1', 'fens');
    expect([...now.all()]).toEqual([['s1 moss', { text: '7..', message: 'no score' }]]);
  });

  it('stays on the machine by person and book, until it is put right or given up', () => {
    const first = new UnreadableEntries();
    first.open('p-1', 'fens');
    first.keep([['s1 moss', { text: '7..', message: 'no score' }]]);
    const again = new UnreadableEntries();
    again.open('p-1', 'fens');
    expect([...again.all()]).toEqual([['s1 moss', { text: '7..', message: 'no score' }]]);
    again.open('p-2', 'fens');
    expect(again.all().size).toBe(0);
    expect([again.count('p-1'), again.count('p-2')]).toEqual([1, 0]);
    again.open('p-1', 'fens');
    again.drop(['s1 moss', 's2 moss']);
    expect([again.all().size, again.count('p-1')]).toEqual([0, 0]);
  });

  it('is gone from the machine after signing out, and only one’s own', () => {
    const entries = new UnreadableEntries();
    for (const person of ['p-1', 'p-2']) {
      entries.open(person, 'fens');
      entries.keep([['s1 moss', { text: 'x', message: '' }]]);
    }
    entries.clear('p-1');
    expect([entries.count('p-1'), entries.count('p-2')]).toEqual([0, 1]);
  });

  it('opens empty where the machine holds nonsense', () => {
    localStorage.setItem('last-tally-scribbles p-1 fens', '{nonsense');
    const entries = new UnreadableEntries();
    entries.open('p-1', 'fens');
    expect(entries.all().size).toBe(0);
  });
});
