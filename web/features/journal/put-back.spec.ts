import { outputToObservable } from '@angular/core/rxjs-interop';
import type { JournalSet, PutBackLine, PutBackMade, PutBackPreview, PutBackWrite } from '@contract/history';
import { ApiProblem } from '../../data/api';
import { openPage, withText } from '../../testing/open-book';
import type { Names } from '../../ui/text/journal/journal-words';
import { PutBack } from './put-back';
import { soon } from '../../testing/soon';

const line = (seq: number, enrolment: string, was: number, now: number, later = false): PutBackLine => ({
  seq,
  kind: 'cell',
  assessment: 'moss',
  enrolment,
  now: JSON.stringify({ attempts: [{ score: now }] }),
  becomes: JSON.stringify({ attempts: [{ score: was }] }),
  later: later ? { seq: 9, at: '2026-11-24T10:00:00Z', by: 'S. Marker', becomes: '{}' } : null,
});
const set: JournalSet = {
  batch: 'b-1',
  first: 4,
  last: 5,
  at: '2026-11-24T09:30:00Z',
  by: 'S. Teacher',
  kind: 'cell',
  set: 'paste',
  title: '',
  reason: '',
  lines: 2,
  students: 1,
  shown: [],
  undone: false,
  undoable: true,
};
const names: Names = {
  zone: 'Europe/Dublin',
  student: (id) => ({ s1: 'Adler', s2: 'Birch' })[id] ?? id,
  assessment: () => 'Moss',
  note: () => undefined,
};

const made: PutBackMade = { batch: 'b-2', seq: 6, title: '', left: 0, cells: [], remarks: [], book: false };

describe('putting back from the journal', () => {
  let opened: Awaited<ReturnType<typeof openPage<PutBack>>>;
  let message: string[];
  const open = async (
    lines: PutBackLine[],
    answer: () => unknown = () => made,
    only: number[] | null = null,
    wait = Promise.resolve(),
  ) => {
    const preview: PutBackPreview = { batch: 'b-1', title: '', undone: false, lines };
    opened = await openPage(
      PutBack,
      answer,
      (path) => (path === '/books/fens/journal/b-1/put-back' ? wait.then(() => preview) : undefined),
      { set, only, names, message: 'Paste' },
    );
    message = [];
    outputToObservable(opened.fixture.componentInstance.done).subscribe((s) => message.push(s));
    await opened.fixture.whenStable();
  };
  const text = (): string => document.querySelector('.p-dialog')!.textContent!.replace(/\s+/g, ' ');
  const button = (label: string): HTMLButtonElement =>
    withText(document, '.p-dialog p-button', label).querySelector('button')!;
  afterEach(() => opened.fixture.destroy());

  it('shows what would be again beside what is, and sends the reason with it', async () => {
    await open([line(4, 's1', 3, 9), line(5, 's2', 2, 8)]);
    expect(text()).toContain('2 would be again');
    expect(text()).toMatch(/Adler, Moss ?9 ?3/);
    document.querySelector<HTMLInputElement>('#put-back-why')!.value = '  an appeal ';
    button('Put it back').click();
    await soon(() => expect(message).toEqual(['Put back: Paste.']));
    expect(opened.sent).toHaveLength(1);
    expect(opened.sent[0]!.path).toBe('/books/fens/journal/b-1/put-back');
    expect(opened.sent[0]!.body as PutBackWrite).toMatchObject({ leaveLater: false, reason: 'an appeal' });
  });

  it('gives the reason the keys, however late it is known what would be again', async () => {
    let known = (): void => undefined;
    await open([line(4, 's1', 3, 9)], undefined, null, new Promise((done) => (known = done)));
    await soon(() => expect(document.activeElement?.textContent).toBe('Leave it'));
    known();
    await soon(() => expect(document.activeElement?.id).toBe('put-back-why'));
    // Nor is it taken again by the dialog, which looks for its first field a moment after it stands open.
    await new Promise((done) => setTimeout(done, 400));
    expect(document.activeElement?.id).toBe('put-back-why');
  });

  it('names what later changes stand on, and leaves those', async () => {
    await open([line(4, 's1', 3, 9), line(5, 's2', 2, 8, true)], () => ({ ...made, left: 1 }));
    expect(text()).toContain('1 of 2 lines have later changes; nothing of that is touched');
    expect(text()).toContain('by S. Marker');
    button('Put back the 1 that nobody changed since').click();
    await soon(() => expect(message).toEqual(['Put back: Paste; 1 with later changes was left.']));
    expect(opened.sent[0]!.body as PutBackWrite).toMatchObject({ leaveLater: true });
  });

  it('has nothing to press where later changes stand on all of it', async () => {
    await open([line(4, 's1', 3, 9, true)]);
    expect(text()).toContain('Later changes stand on all of it');
    expect(document.querySelectorAll('.p-dialog-footer p-button')).toHaveLength(1);
  });

  it('is about one line of a set where one was chosen', async () => {
    await open([line(4, 's1', 3, 9), line(5, 's2', 2, 8)], () => made, [5]);
    expect(text()).toContain('This would be again');
    expect(text()).not.toContain('Adler');
    button('Put it back').click();
    await soon(() => expect(opened.sent).toHaveLength(1));
    expect((opened.sent[0]!.body as PutBackWrite).only).toEqual([5]);
  });

  it('says what the server refuses, and can be tried again', async () => {
    let refuse = true;
    await open([line(4, 's1', 3, 9)], () => {
      if (refuse) throw new ApiProblem('cannot-undo', 'This was put back already.');
      return made;
    });
    button('Put it back').click();
    await soon(() => expect(text()).toContain('This was put back already.'));
    refuse = false;
    button('Put it back').click();
    await soon(() => expect(message).toHaveLength(1));
    const [first, second] = opened.sent.map((s) => s.body as PutBackWrite);
    expect({ ...second!, operation: '' }).toEqual({ ...first!, operation: '' });
  });
});
