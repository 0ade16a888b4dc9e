export const root: string;
export const data: string;
export function hashOf(paths: string[]): string;
export function isFresh(stamp: string, hash: string): boolean;
export function putStamp(stamp: string, hash: string): void;
