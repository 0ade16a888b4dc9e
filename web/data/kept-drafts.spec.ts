import { ChangeDetectionStrategy, Component, inject, signal } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import { beforeEach, describe, expect, it } from 'vitest';
import { Api } from './api';
import { KeptDrafts } from './kept-drafts';

let person = 'ada';
const drafts = (): KeptDrafts => TestBed.inject(KeptDrafts);
/** Another page of the same browser tab, or the same after a reload. */
const again = (): KeptDrafts => {
  TestBed.resetTestingModule();
  TestBed.configureTestingModule({ providers: [{ provide: Api, useValue: { person: () => person } }] });
  return drafts();
};

beforeEach(() => {
  person = 'ada';
  sessionStorage.clear();
  again();
});

@Component({ selector: 'lt-a-page', template: '{{ text() }}', changeDetection: ChangeDetectionStrategy.OnPush })
class APage {
  readonly place = signal('');
  readonly text = inject(KeptDrafts).text(this.place);
  readonly links = inject(KeptDrafts).held<string[]>(this.place, NONE);
}
const NONE: string[] = [];

async function page(place = 'list'): Promise<APage> {
  const fixture = TestBed.createComponent(APage);
  fixture.componentInstance.place.set(place);
  await fixture.whenStable();
  return fixture.componentInstance;
}

describe('what was begun', () => {
  it('is there again after a reload, until it is made or dropped', () => {
    drafts().keep('rules fens', { weight: 40 });
    expect(again().read('rules fens')).toEqual({ weight: 40 });
    drafts().keep('rules fens', null);
    expect(again().read('rules fens')).toBeNull();
  });

  it('is its person’s own', () => {
    drafts().keep('rules fens', { weight: 40 });
    person = 'ben';
    expect(drafts().read('rules fens')).toBeNull();
    person = 'ada';
    expect(drafts().read('rules fens')).toEqual({ weight: 40 });
  });

  it('goes with its person when they sign out, and nobody else’s does', () => {
    drafts().keep('rules fens', { weight: 40 });
    person = 'ben';
    drafts().keep('rules fens', { weight: 50 });
    drafts().forget();
    expect(drafts().read('rules fens')).toBeNull();
    expect(again().read('rules fens')).toBeNull();
    person = 'ada';
    expect(drafts().read('rules fens')).toEqual({ weight: 40 });
  });

  it('is kept by the page where it is too long for the browser, or the browser keeps nothing', () => {
    const long = { text: 'x'.repeat(1_100_000) };
    drafts().keep('intake', long);
    expect(drafts().read('intake')).toBe(long);
    expect(again().read('intake')).toBeNull();
    const set = Storage.prototype.setItem;
    Storage.prototype.setItem = () => {
      throw new DOMException('full', 'QuotaExceededError');
    };
    try {
      drafts().keep('rules fens', { weight: 41 });
      expect(drafts().read('rules fens')).toEqual({ weight: 41 });
    } finally {
      Storage.prototype.setItem = set;
    }
  });

  it('that is no draft at all costs nothing', () => {
    sessionStorage.setItem('last-tally-draft ada rules fens', '{');
    expect(drafts().read('rules fens')).toBeNull();
  });

  it('of a box is in it again, and gone once it is emptied, though the page is left at once', async () => {
    const first = await page();
    first.text.set('Adler, Ada');
    expect((await page()).text()).toBe('Adler, Ada');
    again();
    const later = await page();
    expect(later.text()).toBe('Adler, Ada');
    later.text.set('');
    again();
    expect((await page()).text()).toBe('');
  });

  it('is not written into a place before the place is known, and not over what was typed meanwhile', async () => {
    drafts().keep('list', 'before');
    const fixture = TestBed.createComponent(APage);
    fixture.componentInstance.text.set('typed early');
    fixture.componentInstance.place.set('list');
    await fixture.whenStable();
    expect(fixture.componentInstance.text()).toBe('typed early');
  });

  it('that others should not find is in no storage', async () => {
    const one = await page();
    one.links.set(['secret']);
    expect(Object.keys(sessionStorage)).toEqual([]);
    expect((await page()).links()).toEqual(['secret']);
    again();
    expect((await page()).links()).toEqual([]);
  });
});
