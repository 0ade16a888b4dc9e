import { DestroyRef, effect, inject, type ResourceRef } from '@angular/core';
import { ApiProblem } from './api';
import { retryDelay } from './outbox/retry-delay';

type Read = Pick<ResourceRef<unknown>, 'status' | 'error' | 'reload'>;

/**
 * Reads anew by itself what a dead line or the server kept from being read: with pauses that grow, and at once when the
 * line is back. What was refused stays so. For a component or service, which ends it.
 */
export function retryFailed(...resources: Read[]): void {
  for (const resource of resources) retry(resource);
}

function retry(resource: Read): void {
  let failures = 0;
  let timer: ReturnType<typeof setTimeout> | undefined;
  const isFailed = (): boolean => {
    const error = resource.error();
    return resource.status() === 'error' && error instanceof ApiProblem && error.isTransient;
  };
  effect(() => {
    const status = resource.status();
    clearTimeout(timer);
    if (isFailed()) timer = setTimeout(() => resource.reload(), retryDelay(failures++));
    else if (status === 'resolved') failures = 0;
  });
  const online = (): void => {
    if (isFailed()) resource.reload();
  };
  globalThis.addEventListener?.('online', online);
  inject(DestroyRef).onDestroy(() => {
    clearTimeout(timer);
    globalThis.removeEventListener?.('online', online);
  });
}
