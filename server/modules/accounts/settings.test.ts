import fc from 'fast-check';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { MaybeMe } from '@contract/accounts';
import { DEFAULT_SETTINGS, LOCALES } from '@contract/wire/constants';
import type { PersonSettings } from '@contract/settings';
import { Person } from '../../testing/person';
import { PASSWORD, testSchool, type TestSchool } from '../../testing/school';

let school: TestSchool;
beforeAll(async () => {
  school = await testSchool();
});
afterAll(() => school.close());

const settingsOf = async (person: Person): Promise<PersonSettings> =>
  (await person.must<MaybeMe>('GET', '/session')).me!.settings;

describe('a person’s settings', () => {
  it('are the usual ones until something is set, and then go with the account to every session', async () => {
    expect(await settingsOf(school.teacher)).toEqual(DEFAULT_SETTINGS);
    await fc.assert(
      fc.asyncProperty(
        fc.record({
          locale: fc.constantFrom(...LOCALES),
          colourScheme: fc.constantFrom('machine' as const, 'light' as const, 'dark' as const),
          density: fc.constantFrom('close' as const, 'roomy' as const),
          bareKeys: fc.boolean(),
        }),
        async (settings) => {
          // Sent twice, as after a lost answer.
          await school.teacher.must('PUT', '/settings', settings);
          await school.teacher.must('PUT', '/settings', settings);
          expect(await settingsOf(school.teacher)).toEqual(settings);
          expect(await settingsOf(await Person.signedIn(school.address, 'teacher', PASSWORD))).toEqual(settings);
        },
      ),
      { numRuns: 12 },
    );
    expect(await settingsOf(school.marker)).toEqual(DEFAULT_SETTINGS);
    expect((await school.pool.query('select person from person_settings')).rowCount).toBe(1);
  });

  it('takes nothing that it could not show again, and nothing from nobody', async () => {
    const before = await settingsOf(school.ada);
    for (const wrong of [
      { ...DEFAULT_SETTINGS, locale: 'xx-YY' },
      { ...DEFAULT_SETTINGS, colourScheme: 'sepia' },
      { ...DEFAULT_SETTINGS, density: '' },
      { locale: 'en-GB' },
      { ...DEFAULT_SETTINGS, person: 'somebody-else' },
    ]) {
      const answer = await school.ada.send<{ detail: string; errors: { pointer: string; detail: string }[] }>(
        'PUT',
        '/settings',
        wrong,
      );
      expect(answer.status).toBe(400);
      expect(answer.body.detail).toMatch(/\.$/);
    }
    expect(await settingsOf(school.ada)).toEqual(before);
    expect((await new Person(school.address).send('PUT', '/settings', DEFAULT_SETTINGS)).status).toBe(401);
  });

  it('reads a locale that is offered no more as the usual one', async () => {
    await school.ben.must('PUT', '/settings', { ...DEFAULT_SETTINGS, density: 'roomy' });
    await school.pool.query(`update person_settings set locale = 'zz' where density = 'roomy'`);
    expect(await settingsOf(school.ben)).toEqual({ ...DEFAULT_SETTINGS, density: 'roomy' });
  });
});
