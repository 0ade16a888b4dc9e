import { InjectionToken } from '@angular/core';
import { proofSeed } from '@contract/wire/sign-in-proof';
import type { SignIn, SignInChallenge } from '@contract/accounts';

export type FindProof = (asked: SignInChallenge, given: SignIn) => Promise<NonNullable<SignIn['proof']>>;

/** Does the work that a sign-in is asked for beside the page, which stays free meanwhile. */
export const FIND_PROOF = new InjectionToken<FindProof>('the work for a sign-in', {
  providedIn: 'root',
  factory:
    () =>
    ({ challenge, bits }, { login, password }) =>
      new Promise((done, failed) => {
        const worker = new Worker(new URL('./proof.worker', import.meta.url), { type: 'module' });
        worker.onmessage = ({ data }: MessageEvent<number>) => {
          worker.terminate();
          done({ challenge, nonce: data });
        };
        worker.onerror = (event) => {
          worker.terminate();
          failed(new Error(event.message));
        };
        worker.postMessage({ seed: proofSeed(challenge, login, password), bits });
      }),
});
