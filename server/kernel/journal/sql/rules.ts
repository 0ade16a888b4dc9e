import type { Db } from '../../database';

/** The rules' last line up to there, or the line that made the book. */
export async function rulesAfter(db: Db, school: string, book: string, seq: number): Promise<string | null> {
  const { rows } = await db.query<{ kind: string; becomes: string }>(
    `select kind, becomes from journal where school = $1 and book = $2 and kind in ('rules', 'book') and seq <= $3
     order by seq desc limit 1`,
    [school, book, seq],
  );
  if (!rows[0]) return null;
  if (rows[0].kind === 'rules') return rows[0].becomes;
  return JSON.stringify((JSON.parse(rows[0].becomes) as { rules?: unknown } | null)?.rules ?? null);
}
