import type pg from 'pg';
import { journalKinds } from '../journal-kinds';
import { validationErrors } from '../http/validate';

/** Lines of the journal whose texts are not what their kind says they are. */
export async function misformattedLines(pool: pg.Pool): Promise<string[]> {
  const { rows } = await pool.query<{ kind: string; was: string | null; becomes: string | null }>(
    'select distinct kind, was, becomes from journal',
  );
  const wrong: string[] = [];
  for (const { kind, was, becomes } of rows)
    for (const text of [was, becomes]) {
      const errors = text === null ? [] : validationErrors(journalKinds.find(kind)!.format, JSON.parse(text));
      if (errors.length > 0) wrong.push(`${kind}: ${text!.slice(0, 200)}: ${JSON.stringify(errors)}`);
    }
  return wrong;
}
