import type { Request, Response } from 'express';
import type pg from 'pg';
import type { Static, TSchema } from '@contract/wire';
import type { Config } from '../kernel/config';
import type { CachedAdmission, Person } from '../modules/accounts';
import type { BookRole } from '../modules/books';
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
  'book-people',
] as const;
export type Permission = (typeof PERMISSIONS)[number];

/** What a route is given. `person` and `role` are there where its permission asks for them. */
export interface Call<B> {
  pool: pg.Pool;
  config: Config;
  person: Person;
  role: BookRole | 'administrator';
  school: string;
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

/** One door of the API: what comes in, who may, what goes out. Paths stand under /api/v1 with {name} for parts. */
export interface Route<B extends TSchema = TSchema, A extends TSchema = TSchema> {
  method: 'get' | 'post' | 'put' | 'patch' | 'delete';
  path: string;
  permission: Permission;
  summary: string;
  body?: B;
  /** The answer's schema, or the media type of a file. */
  answer: A | 'text/csv';
  /** Status where it is not 200. */
  status?: number;
  handler(context: Context<Static<B>>): Promise<unknown>;
  /** It needs no more than {@link Call}, and is asked so often that it has a way of its own in (straight.ts). */
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

/** In whose name a journal line is written. */
export const whoOf = ({ school, person, params }: Pick<Call<unknown>, 'school' | 'person' | 'params'>) => ({
  school,
  book: params['book']!,
  person: person.id,
});

/** May change rules, bring in and release. */
export const managesBook = (role: Call<unknown>['role']): boolean => role === 'teacher' || role === 'co-teacher';

/** A file to save. */
export interface FileAnswer {
  name: string;
  text: string;
}
