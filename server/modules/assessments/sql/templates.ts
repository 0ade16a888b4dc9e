import type { Template } from '@contract/assessments';
import type { Db } from '../../../kernel/database';

export async function templatesOf(db: Db, school: string, person: string): Promise<Template[]> {
  const { rows } = await db.query<{ id: string; title: string; body: string }>(
    'select id, title, body from template where school = $1 and person = $2 order by lower(title), id',
    [school, person],
  );
  return rows.map((r) => ({ ...r, body: JSON.parse(r.body) as Template['body'] }));
}

export async function putTemplate(db: Db, school: string, person: string, t: Template): Promise<void> {
  await db.query(
    `insert into template (school, person, id, title, body) values ($1, $2, $3, $4, $5)
     on conflict (school, person, id) do update set title = excluded.title, body = excluded.body`,
    [school, person, t.id, t.title, JSON.stringify(t.body)],
  );
}

export async function deleteTemplate(db: Db, school: string, person: string, id: string): Promise<void> {
  await db.query('delete from template where school = $1 and person = $2 and id = $3', [school, person, id]);
}
