import { signal } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import type { Mark, WorkMarkRow, WorkMarkWrite } from '@contract/work/marks';
import { Api, ApiProblem } from '../../api';
import { soon } from '../../../testing/soon';
import { MarkOutbox } from './mark-outbox';

/** A server that keeps marks as ours does, and can be cut off, lose its answers or refuse. */
class FakeApi {
  readonly person = signal('');
  trouble: ConstructorParameters<typeof ApiProblem>[0] | null = null;
  losesAnswers = false;
  readonly rows = new Map<string, WorkMarkRow>();
  sends = 0;

  async send(_method: string, path: string, write: WorkMarkWrite): Promise<WorkMarkRow> {
    this.sends++;
    if (this.trouble) throw new ApiProblem(this.trouble, 'no');
    const id = path.split('/').at(-1)!;
    const was = this.rows.get(id);
    const again = was?.version === write.version + 1 && JSON.stringify(was.mark) === JSON.stringify(write.mark);
    if ((was?.version ?? 0) !== write.version && !again) throw new ApiProblem('stale', 'changed', was);
    if (!again) this.write(id, write.mark, this.person());
    if (this.losesAnswers) throw new ApiProblem('offline', 'no answer');
    return this.rows.get(id)!;
  }

  write(id: string, mark: Mark | null, by: string): void {
    const version = (this.rows.get(id)?.version ?? 0) + 1;
    this.rows.set(id, { id, version, leaf: 'f', mark, by, mine: by === this.person(), at: '' });
  }
}

let api: FakeApi;
let outbox: MarkOutbox;
let n = 0;
const place = () => ({ book: 'fens', submission: `w${n}` });
const note = (comment: string): Mark => ({
  ...{ kind: 'note', ink: 'plum', surface: { on: 'whole', index: 0 }, comment, at: [0.5, 0.2] },
});
const put = (id: string, mark: Mark | null, version = 0): void => outbox.put(place(), { id: `${id}-${n}`, leaf: 'f', mark, version }); // prettier-ignore
const comments = (): string[] => [...api.rows.values()].flatMap((r) => (r.mark ? [r.mark.comment] : [])).sort();
const begin = (): MarkOutbox => {
  TestBed.resetTestingModule();
  TestBed.configureTestingModule({ providers: [{ provide: Api, useValue: api }] });
  return TestBed.inject(MarkOutbox);
};

beforeEach(() => {
  api = new FakeApi();
  api.person.set(`marker-${++n}`);
  outbox = begin();
});

describe('marks that are not kept yet', () => {
  it('are gathered and sent, each as it was last', async () => {
    for (const words of ['S', 'Sa', 'Say how.']) put('a', note(words));
    put('b', note('Measured?'));
    expect(outbox.count()).toBe(2);
    await soon(() => expect(outbox.count()).toBe(0));
    expect([comments(), api.sends]).toEqual([['Measured?', 'Say how.'], 2]);
  });

  it('are told to be kept while they still wait: in between they would be gone from the page', async () => {
    const waiting: number[] = [];
    outbox.kept.subscribe(() => waiting.push(outbox.unsent(place()).length));
    put('a', note('loa'));
    await soon(() => expect(outbox.count()).toBe(0));
    expect(waiting).toEqual([1]);
  });

  it('outlive a dead line and the page, in their own person’s name alone', async () => {
    api.trouble = 'offline';
    put('a', note('reed'));
    await soon(() => expect(api.sends).toBeGreaterThan(0));
    const mine = api.person();
    api.trouble = null;
    api.person.set('somebody-else');
    outbox = begin();
    await outbox.open();
    expect(outbox.count()).toBe(0);
    api.person.set(mine);
    await outbox.open();
    await soon(() => expect(outbox.count()).toBe(0));
    expect(comments()).toEqual(['reed']);
  });

  it('are on the disk whole as soon as the page is left', async () => {
    api.trouble = 'offline';
    const typed = 'Over a dead line.';
    for (let end = 1; end <= typed.length; end++) put('a', note(typed.slice(0, end)));
    globalThis.dispatchEvent(new Event('pagehide'));
    // The page before says nothing more; what the next one finds is what was said until then.
    const next = begin();
    await next.open();
    expect(next.unsent(place()).map((u) => u.mark?.comment)).toEqual([typed]);
  });

  it('whose answers were lost, once and again, while they were changed, are one mark as it was last', async () => {
    api.losesAnswers = true;
    put('a', note('one'));
    await soon(() => expect(comments()).toEqual(['one']));
    put('a', note('two'));
    const before = api.sends;
    await soon(() => expect(api.sends).toBeGreaterThan(before));
    put('a', note('three'));
    api.losesAnswers = false;
    await soon(() => expect(outbox.count()).toBe(0));
    expect(comments()).toEqual(['three']);
  });

  it('that somebody else changed at the same moment stand beside theirs', async () => {
    const told: string[] = [];
    outbox.crossed.subscribe(({ words }) => told.push(words));
    api.write(`a-${n}`, note('theirs'), 'M. Quigg');
    put('a', note('mine'));
    await soon(() => expect(comments()).toEqual(['mine', 'theirs']));
    await soon(() => expect(outbox.count()).toBe(0));
    expect(told[0]).toContain('M. Quigg changed this mark');
    // Taken off here, changed there: it stays.
    api.write(`b-${n}`, note('stays'), 'M. Quigg');
    api.write(`b-${n}`, note('stays so'), 'M. Quigg');
    put('b', null, 1);
    await soon(() => expect(told).toHaveLength(2));
    expect(comments()).toContain('stays so');
  });

  it('that the server cannot keep stay here with its sentence until they are changed', async () => {
    api.trouble = 'too-large';
    put('a', note('long'));
    await soon(() => expect(outbox.refusal(place())).toBe('no'));
    api.trouble = null;
    put('a', note('short'));
    await soon(() => expect(outbox.count()).toBe(0));
    expect([outbox.refusal(place()), comments()]).toEqual(['', ['short']]);
  });

  it('made and taken off before anybody heard of them are nothing, and are let go of at sign-out', async () => {
    api.trouble = 'offline';
    put('a', note('x'));
    put('a', null);
    expect([outbox.count(), api.sends]).toEqual([0, 0]);
    put('b', note('y'));
    await outbox.clear();
    expect(outbox.count()).toBe(0);
  });
});
