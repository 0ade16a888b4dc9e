import type { NewTerm } from '@contract/accounts';
import type { Db } from '../../kernel/database';
import { Refusal } from '../../kernel/refusal';
import { insertTerm } from '../books';

export async function makeTerm(db: Db, school: string, term: NewTerm): Promise<void> {
  if (term.ends < term.starts) throw new Refusal('bad-request', 'The term ends before it starts. Nothing was made.');
  if (!(await insertTerm(db, school, term)))
    throw new Refusal('already-there', `There is a term “${term.id}” already.`);
}
