import type { Db } from './database';

declare const inCommit: unique symbol;

/** The connection of a book's commit. Whatever writes a book's tables takes this, and only `commitBook` can give it. */
export type BookTransaction = Db & { readonly [inCommit]: true };

/** For `commitBook` alone (the doors in eslint.config.js). */
export const asBookTransaction = (db: Db): BookTransaction => db as BookTransaction;
