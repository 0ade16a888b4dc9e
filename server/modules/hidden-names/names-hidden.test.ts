import { expect, it } from 'vitest';
import { areNamesHidden } from '@core/work/hidden-names';
import { testSchool } from '../../testing/school';

it('storage and core say alike where names are hidden, whatever the settings say', async () => {
  const school = await testSchool();
  try {
    for (const namesHidden of [undefined, false, true])
      for (const namesShown of [undefined, false, true]) {
        const settings = JSON.stringify({ namesHidden, namesShown });
        const { rows } = await school.pool.query<{ names_hidden: boolean }>(
          `update assessment set work = (work::jsonb - 'namesHidden' - 'namesShown' || $1::jsonb)::text
            where book = 'fens' and id = 'moss' returning names_hidden`,
          [settings],
        );
        expect([settings, rows]).toEqual([settings, [{ names_hidden: areNamesHidden({ namesHidden, namesShown }) }]]);
      }
  } finally {
    await school.close();
  }
});
