import type { Request, Response } from 'express';
import type pg from 'pg';
import type { Static, TSchema } from '@contract/wire';
import type { Config } from '../kernel/config';
import type { CachedAdmission, Person } from '../modules/accounts';
import { createHash } from 'node:crypto';
import { canonical } from '@core/book/canonical';
import { isBookPermission } from '../kernel/permissions';
import type { Names } from '../modules/hidden-names';
import type { Author, BookRole } from '../modules/books';
/**
 * Who may come in. `book-*` and `own-book` look at the book named in the path; an administrator reads any book and
 * changes its people alone. A book that is put away is read, and taken out again by those of `book-own`.
 */
export const PERMISSIONS = [
  'anyone',
  'signed-in',
  'office',
  'staff',
  'staff-or-office',
  'student',
  'book-read',
  'book-scores',
  'book-manage',
  'book-make',
  'book-own',
  'book-work',
  'book-people',
  'book-office',
] as const;
export type Permission = (typeof PERMISSIONS)[number];

/**
 * What a door of a book does where names are hidden in one of its assessments. `free`: nothing of it is about a student.
 * `named`: about students, and nothing of any work; not through a veil. `work`: about one assessment, that of its path or
 * of its submission: through the veil alone while names are hidden there. `shown`: the same, never through a veil.
 * `aware`: it looks at `names` itself.
 */
export const NAMES = ['free', 'named', 'work', 'shown', 'aware'] as const;
export type NamesRule = (typeof NAMES)[number];

/** What a route is given. `person` and `role` are there where its permission asks for them. */
export interface Call<B> {
  pool: pg.Pool;
  config: Config;
  person: Person;
  role: BookRole | 'administrator';
  /** What of the book may be told here, and by what names. */
  names: Names;
  school: string;
  route: Pick<Route, 'method' | 'path' | 'permission'>;
  params: Record<string, string>;
  body: B;
  /** Let in on what was known lately: nothing is told or changed before that is asked again. Null: it was asked now. */
  cachedAdmission: CachedAdmission | null;
}

/** The same with the request itself, for those that read or write more of it than a body and an answer. */
export interface Context<B> extends Call<B> {
  request: Request;
  response: Response;
}

/** A list of people or assessments; cells of a whole book. */
export const LONG_LIST = 2_000_000;
export const WHOLE_BOOK = 32_000_000;

/** One door of the API: what comes in, who may, what goes out. Paths stand under /api/v1 with {name} for parts. */
export interface Route<B extends TSchema = TSchema, A extends TSchema = TSchema> {
  method: 'get' | 'head' | 'post' | 'put' | 'patch' | 'delete';
  path: string;
  permission: Permission;
  /** Every door of a book says it. */
  names?: NamesRule;
  summary: string;
  body?: B;
  /** Bytes that it may have, where that is more than 100,000. */
  maxBytes?: number;
  /** The answer's schema, or the media type of a file. */
  answer: A | 'text/csv' | 'application/octet-stream';
  /** Status where it is not 200. */
  status?: number;
  handler(context: Context<Static<B>>): Promise<unknown>;
  /** It needs no more than {@link Call}, and is asked so often that it has a way of its own in (fast-path.ts). */
  fastPath?: true;
  /** In place of one answer: writes to the response for as long as it is open. `answer` is the schema of each piece. */
  stream?(context: Context<never>): Promise<void>;
}

/** Keeps the types of one route while forgetting them in the list of all. */
export function route<B extends TSchema, A extends TSchema>(
  r: Omit<Route<B, A>, 'handler' | 'stream' | 'fastPath'> &
    (
      | {
          fastPath?: undefined;
          handler(context: Context<Static<B>>): Promise<A extends TSchema ? Static<A> | FileAnswer : never>;
        }
      | { fastPath: true; handler(context: Call<Static<B>>): Promise<A extends TSchema ? Static<A> : never> }
      | { fastPath?: undefined; handler?: undefined; stream(context: Context<never>): Promise<void> }
    ),
): Route {
  return r as unknown as Route;
}

/** Who changes a book, through which door, by what they sent. */
export const whoOf = ({
  school,
  person,
  params,
  body,
  route,
}: Pick<Call<unknown>, 'school' | 'person' | 'params' | 'body' | 'route'>): Author => ({
  school,
  book: params['book']!,
  person: person.id,
  permission: isBookPermission(route.permission) || route.permission === 'student' ? route.permission : null,
  get fingerprint() {
    const asked = `${route.method} ${route.path} ${canonical(params)} ${canonical(body)}`;
    return createHash('sha256').update(asked).digest('base64url');
  },
});

/** A file to save. */
export interface FileAnswer {
  name: string;
  text: string;
}

/** One word of the address's query; null where it is not there, or there twice. */
export const queried = (request: Request, name: string): string | null => {
  const value = request.query[name];
  return typeof value === 'string' && value !== '' ? value : null;
};
