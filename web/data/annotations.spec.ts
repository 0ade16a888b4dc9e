import { TestBed } from '@angular/core/testing';
import { Api, ApiProblem } from './api';
import { BookAnnotations, WHOLE } from './annotations';
import type { BookAnnotations as Answer, StaffNote } from '@contract/annotations';

const remark = (version: number, text: string | null): StaffNote => ({
  enrolment: 's1',
  place: 'moss',
  version,
  note: text === null ? null : { id: 'n-1', text, by: 'S. Teacher', at: '2026-11-24T09:00:00Z' },
  secondLookBy: null,
});
const answer: Answer = {
  notes: [remark(2, 'Smudged page.')],
  groups: [],
  views: [],
  since: 4,
  sinceAt: '2026-11-23T09:00:00Z',
  changed: [{ assessment: 'moss', enrolment: 's2' }],
};

describe('what stands beside the scores', () => {
  let sent: { path: string; body: { version: number } }[];
  let stale: StaffNote | null;
  let beside: BookAnnotations;
  beforeEach(async () => {
    sent = [];
    stale = null;
    const api = {
      person: () => 'me',
      get: async () => answer,
      send: async (_method: string, path: string, body: { version: number }) => {
        sent.push({ path, body });
        if (stale) throw new ApiProblem('stale', 'somebody else wrote here', stale);
        return { ...remark(body.version + 1, 'Other words.') };
      },
    };
    TestBed.configureTestingModule({ providers: [{ provide: Api, useValue: api }] });
    beside = TestBed.inject(BookAnnotations);
    await beside.load('fens');
  });

  it('is read for a book, and what others change joins it', () => {
    expect(beside.noteAt('s1', 'moss').note?.text).toBe('Smudged page.');
    expect(beside.noteAt('s1', WHOLE)).toMatchObject({ version: 0, note: null });
    beside.noteChanged([{ enrolment: 's1', assessment: 'reed' }]);
    expect([...beside.changed()]).toEqual(['s2 moss', 's1 reed']);
  });

  it('is written over the version that was seen, and never goes back to an older one', async () => {
    await beside.write('s1', 'moss', { note: 'Other words.' });
    expect(sent.map((s) => [s.path, s.body.version])).toEqual([['/books/fens/staff-notes/s1/moss', 2]]);
    expect(beside.noteAt('s1', 'moss')).toMatchObject({ version: 3, note: { text: 'Other words.' } });
    beside.put([remark(2, 'Smudged page.')]);
    expect(beside.noteAt('s1', 'moss').version).toBe(3);
  });

  it('takes a flag beside a note that is under way, each over what the one before it made', async () => {
    const both = [
      beside.write('s1', 'moss', { note: 'Other words.' }),
      beside.write('s1', 'moss', { secondLook: true }),
    ];
    await Promise.all(both);
    expect(sent.map((s) => s.body.version)).toEqual([2, 3]);
    // Of somebody else’s write meanwhile one has not seen anything: the version that was seen is sent, and refused.
    const late = beside.write('s1', 'moss', { secondLook: false });
    beside.put([remark(9, 'Theirs.')]);
    await late;
    expect(sent[2]!.body.version).toBe(4);
  });

  it('shows theirs where somebody else wrote meanwhile, and says so', async () => {
    stale = remark(7, 'Theirs.');
    await expect(beside.write('s1', 'moss', { secondLook: true })).rejects.toThrow('somebody else wrote here');
    expect(beside.noteAt('s1', 'moss').note?.text).toBe('Theirs.');
  });
});
