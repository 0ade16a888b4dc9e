export const root: string;
export const data: string;
export function hashOf(paths: string[], which?: { tests?: boolean }): string;
export function hashOfSources(): string;
export function isFresh(stamp: string, hash: string): boolean;
export function putStamp(stamp: string, hash: string): void;
