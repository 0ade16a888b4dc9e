import type { MaybeMe } from '@contract/accounts';
import type { Api } from './api';

/** Whether the same person has signed in again, in any window: then this page goes on under their new session. */
export async function signedInAgain(api: Api, person: string): Promise<boolean> {
  const me = await api.get<MaybeMe>('/session').then(
    (answer) => answer.me,
    () => null,
  );
  if (me?.id !== person) return false;
  api.token.set(me.token);
  api.person.set(me.id);
  return true;
}
