import { TestBed, type ComponentFixture } from '@angular/core/testing';
import { beforeEach, describe, expect, it } from 'vitest';
import type { Thread, ThreadMessage } from '@contract/work/threads';
import { ThreadBox } from './thread-box';

const said = (kind: ThreadMessage['kind'], by: string, text: string): ThreadMessage => ({
  ...{ id: text, kind, by, own: false, at: '2026-11-24T09:00:00Z', text },
});
const ASKED: Thread = {
  messages: [said('question', 'C. Farrelly', 'By hand?'), said('draft', 'M. Quigg', 'Either is fine.')],
  unansweredSince: '2026-11-24T09:00:00Z',
};

describe('the box of a thread', () => {
  let fixture: ComponentFixture<ThreadBox>;
  const host = (): HTMLElement => fixture.nativeElement as HTMLElement;
  const word = (text: string) => [...host().querySelectorAll('button')].find((b) => b.textContent.trim() === text);
  const open = (inputs: Record<string, unknown>): void => {
    fixture = TestBed.createComponent(ThreadBox);
    for (const [name, value] of Object.entries({ boxId: 'box', thread: ASKED, staff: true, ...inputs }))
      fixture.componentRef.setInput(name, value);
    fixture.detectChanges();
  };
  let sent: string[];
  const listen = (): void => {
    sent = [];
    fixture.componentInstance.said.subscribe((text) => sent.push(text));
  };
  beforeEach(() => open({}));

  it('offers a teacher what was drafted, to be read over and answered', () => {
    listen();
    expect(host().textContent).toMatch(/M\. Quigg\s+drafted an answer/);
    word('take it for the answer')!.click();
    fixture.detectChanges();
    expect(host().querySelector('textarea')!.value).toBe('Either is fine.');
    word('Answer')!.click();
    expect(sent).toEqual(['Either is fine.']);
  });

  it('puts a draft after what is typed already, and offers none once the question is answered', () => {
    open({ text: 'Thank you.' });
    word('take it for the answer')!.click();
    fixture.detectChanges();
    expect(host().querySelector('textarea')!.value).toBe('Thank you.\n\nEither is fine.');
    open({ thread: { ...ASKED, unansweredSince: null } });
    expect(word('take it for the answer')).toBeUndefined();
  });

  it('lets a marker draft while a question waits, and answer nothing', () => {
    open({ mayAnswer: false, text: 'Typed, please.' });
    listen();
    expect([word('Answer'), word('take it for the answer'), word('it needs no answer')]).toEqual([
      undefined,
      undefined,
      undefined,
    ]);
    expect(host().textContent).toContain('A teacher of the book answers.');
    word('Leave the draft')!.click();
    expect(sent).toEqual(['Typed, please.']);
    open({ mayAnswer: false, thread: { ...ASKED, unansweredSince: null } });
    expect(host().querySelector('textarea')).toBeNull();
    // It was answered while they typed.
    open({
      mayAnswer: false,
      thread: { ...ASKED, unansweredSince: null },
      text: 'Typed, pl',
      problem: 'Said meanwhile.',
    });
    expect(host().querySelector('textarea')!.value).toBe('Typed, pl');
    expect(host().textContent).toContain('Said meanwhile.');
  });
});
