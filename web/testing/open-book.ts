import { provideZonelessChangeDetection, type Type } from '@angular/core';
import { TestBed, type ComponentFixture } from '@angular/core/testing';
import { provideRouter } from '@angular/router';
import { provideStore } from '@ngrx/store';
import { providePrimeNG } from 'primeng/config';
import { OPEN_SCHOOL } from '@core/policy/document';
import type { Sheet } from '@contract/books';
import { Api } from '../data/api';
import { BookStore } from '../data/book';
import { sessionFeature } from '../data/session';
import { SHEET_WORKER } from '../worker/sheet-client';
import { testPage, testSheet } from './book';
import { workerOf } from './worker';

/** What a page sent, in order. */
export interface Sent {
  method: string;
  path: string;
  body: unknown;
}

let turn = 0;

/** A school that says nothing, in which the test book departs from nothing. */
const usual = (path: string): unknown =>
  path === '/school-rules'
    ? { version: 0, rules: OPEN_SCHOOL, made: null }
    : path.endsWith('/deviations')
      ? []
      : testPage();

/**
 * A page of the test book, opened with the worker's own code; `answer` is what the server answers to what is sent,
 * `asked` to what is asked for (undefined: the page of the book), `inputs` what the page is given, `sheet` its book.
 */
export async function openPage<T>(
  page: Type<T>,
  answer: (sent: Sent) => unknown = () => ({}),
  asked: (path: string) => unknown = () => undefined,
  inputs: Record<string, unknown> = {},
  sheet: Sheet = testSheet(),
): Promise<{ fixture: ComponentFixture<T>; sent: Sent[]; text(): string; element(selector: string): HTMLElement }> {
  const sent: Sent[] = [];
  const api = {
    token: () => '',
    person: () => `page-${turn}`,
    get: async (path: string) => asked(path) ?? usual(path),
    send: async (method: string, path: string, body: unknown) => {
      sent.push({ method, path, body });
      return answer({ method, path, body });
    },
  };
  const worker = workerOf(() => sheet);
  TestBed.configureTestingModule({
    imports: [page],
    providers: [
      provideZonelessChangeDetection(),
      provideRouter([]),
      providePrimeNG({ overlayAppendTo: 'body' }),
      provideStore({ [sessionFeature.name]: sessionFeature.reducer }),
      { provide: Api, useValue: api },
      { provide: SHEET_WORKER, useValue: () => worker },
    ],
  });
  // Parts that are fetched later make a component whole only then.
  await TestBed.compileComponents();
  await TestBed.inject(BookStore).open('fens', `page-${++turn}`);
  const fixture = TestBed.createComponent(page);
  for (const [name, value] of Object.entries(inputs)) fixture.componentRef.setInput(name, value);
  await fixture.whenStable();
  const native = fixture.nativeElement as HTMLElement;
  return {
    fixture,
    sent,
    text: () => native.textContent!.replace(/\s+/g, ' '),
    element: (selector) => native.querySelector<HTMLElement>(selector)!,
  };
}

/** The element with a text among those of a selector. */
export function withText(root: ParentNode, selector: string, text: string): HTMLElement {
  const found = [...root.querySelectorAll<HTMLElement>(selector)].find((e) => e.textContent!.includes(text));
  if (!found) throw new Error(`no ${selector} says “${text}”`);
  return found;
}
