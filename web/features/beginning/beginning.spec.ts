import { DEFAULT_SETTINGS } from '@contract/wire/constants';
import { provideZonelessChangeDetection } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import { provideRouter } from '@angular/router';
import { provideEffects } from '@ngrx/effects';
import { provideStore } from '@ngrx/store';
import { providePrimeNG } from 'primeng/config';
import { describe, expect, it } from 'vitest';
import { Api, ApiProblem } from '../../data/api';
import { SessionEffects, sessionFeature } from '../../data/session';
import { soon } from '../../testing/soon';
import { BeginningPage, missingIn } from './beginning';

const WHOLE = {
  code: 'k7f2-9mqd-x3tw-8hnz',
  school: 'Tarn School',
  given: 'Una',
  family: 'Office',
  login: 'Una.Office',
  password: 'long-enough-1',
  again: 'long-enough-1',
  term: 'Autumn 2026',
  starts: '2026-09-01',
  ends: '2026-12-20',
};

describe('what is missing before a school can be made', () => {
  it('is nothing where all is there, also without a given name', () => {
    expect(missingIn(WHOLE)).toBe('');
    expect(missingIn({ ...WHOLE, given: '' })).toBe('');
    expect(missingIn({ ...WHOLE, ends: WHOLE.starts })).toBe('');
  });

  it('is said one thing at a time, in the order of the page', () => {
    for (const [change, said] of [
      [{ code: ' ' }, 'The code is missing.'],
      [{ code: '', school: '' }, 'The code is missing.'],
      [{ school: ' ' }, 'The school has no name yet.'],
      [{ family: '' }, 'Your family name is missing.'],
      [{ login: '' }, 'Your sign-in name is missing.'],
      [{ login: 'x' }, 'A sign-in name has at least two letters'],
      [{ login: 'no spaces here' }, 'A sign-in name has at least two letters'],
      [{ password: '' }, 'The password is missing.'],
      [{ password: 'short', again: 'short' }, 'The password: 3 more.'],
      [{ again: 'long-enough-2' }, 'The two passwords are not the same yet.'],
      [{ term: '' }, 'The term has no name yet.'],
      [{ starts: '' }, 'The term has a first and a last day.'],
      [{ ends: '2026-08-31' }, 'The term ends before it starts.'],
    ] as const)
      expect(missingIn({ ...WHOLE, ...change })).toContain(said);
  });
});

/** The page with all of it typed; `answers`: what the server answers to each post in turn. */
async function filled(answers: (() => unknown)[]) {
  const sent: { path: string; body: Record<string, unknown> }[] = [];
  const api = {
    token: { set: () => undefined },
    person: { set: () => undefined },
    get: async () => ({ me: null, hasSchool: false }),
    send: async (_method: string, path: string, body: Record<string, unknown>) => {
      sent.push({ path, body });
      return answers.shift()!();
    },
  };
  TestBed.configureTestingModule({
    providers: [
      provideZonelessChangeDetection(),
      provideRouter([]),
      providePrimeNG({ overlayAppendTo: 'body' }),
      provideStore({ [sessionFeature.name]: sessionFeature.reducer }),
      provideEffects(SessionEffects),
      { provide: Api, useValue: api },
    ],
  });
  const fixture = TestBed.createComponent(BeginningPage);
  await fixture.whenStable();
  const root = fixture.nativeElement as HTMLElement;
  // What the fields hold: typing days into the picker is for the browser's tests.
  fixture.componentInstance['form'].patchValue({ ...WHOLE, zone: 'Europe/Dublin' });
  await fixture.whenStable();
  const make = async (): Promise<void> => {
    root.querySelector('form')!.dispatchEvent(new Event('submit'));
    await fixture.whenStable();
  };
  return { root, sent, make, text: () => root.textContent!.replace(/\s+/g, ' ') };
}

const lost = (): never => {
  throw new ApiProblem('offline', 'The server does not answer.');
};
const there = (): never => {
  throw new ApiProblem('already-there', 'This server has a school already.');
};
const una = () => ({
  id: 'p-1',
  name: 'U. Office',
  role: 'administrator',
  school: 'Tarn School',
  token: 't',
  settings: DEFAULT_SETTINGS,
});

describe('making the first school', () => {
  it('sends all of it at once, days as they were picked, and signs its administrator in', async () => {
    const { sent, make, text } = await filled([() => ({ done: true }), una]);
    await make();
    await soon(() => expect(text()).toContain('Tarn School is made'));
    expect(sent.map((s) => s.path)).toEqual(['/setup', '/session']);
    expect(sent[0]!.body).toMatchObject({
      code: WHOLE.code,
      school: { title: 'Tarn School', timeZone: 'Europe/Dublin' },
      administrator: { login: 'una.office', family: 'Office', given: 'Una' },
      term: { title: 'Autumn 2026', starts: '2026-09-01', ends: '2026-12-20' },
    });
    expect(Object.keys(sent[0]!.body['school'] as object)).not.toContain('fixedNow');
  });

  it('whose answer was lost is tried again as the same, and signs in where it had been made', async () => {
    const { sent, make, text } = await filled([lost, there, una]);
    await make();
    expect(text()).toContain('The server does not answer.');
    await make();
    await soon(() => expect(text()).toContain('Tarn School is made'));
    const [first, second] = sent;
    expect(second!.body['school']).toEqual(first!.body['school']);
    expect((second!.body['term'] as { id: string }).id).toBe((first!.body['term'] as { id: string }).id);
  });

  it('where somebody else was first says so, keeps what was typed and leads to signing in', async () => {
    const refused = (): never => {
      throw new ApiProblem('wrong-sign-in', 'This name and password do not go together.');
    };
    const { root, make, text } = await filled([there, refused]);
    await make();
    await soon(() => expect(text()).toContain('There is a school on this server now, and you are not signed in to it'));
    expect(text()).toContain('This name and password do not go together.');
    expect(root.querySelector<HTMLAnchorElement>('.says a')!.getAttribute('href')).toBe('/sign-in');
    expect(root.querySelector<HTMLInputElement>('#school')!.value).toBe('Tarn School');
  });
});
