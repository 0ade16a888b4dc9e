import type { Request, Response } from 'express';
import type pg from 'pg';
import type { Static, TSchema } from '@contract/wire';
import type { Config } from '../config';
import type { BookRole } from '../store/books';
import type { Person } from '../store/people';

/**
 * Who may come in. `book-*` and `own-book` look at the book named in the path; an administrator reads any book and
 * changes none.
 */
export const PERMISSIONS = [
  'anyone',
  'signed-in',
  'office',
  'staff',
  'student',
  'book-read',
  'book-scores',
  'book-manage',
  'book-make',
] as const;
export type Permission = (typeof PERMISSIONS)[number];

/** What a route is given. `person` and `role` are there where its permission asks for them. */
export interface Context<B> {
  pool: pg.Pool;
  config: Config;
  person: Person;
  role: BookRole | 'administrator';
  school: string;
  params: Record<string, string>;
  body: B;
  request: Request;
  response: Response;
}

/** One door of the API: what comes in, who may, what goes out. Paths stand under /api/v1 with {name} for parts. */
export interface Route<B extends TSchema = TSchema, A extends TSchema = TSchema> {
  method: 'get' | 'post' | 'put' | 'patch' | 'delete';
  path: string;
  permission: Permission;
  says: string;
  body?: B;
  /** The answer's schema, or the media type of a file. */
  answer: A | 'text/csv';
  /** Status where it is not 200. */
  status?: number;
  does(context: Context<Static<B>>): Promise<unknown>;
}

/** Keeps the types of one route while forgetting them in the list of all. */
export function route<B extends TSchema, A extends TSchema>(
  r: Omit<Route<B, A>, 'does'> & {
    does(context: Context<Static<B>>): Promise<A extends TSchema ? Static<A> | FileAnswer : never>;
  },
): Route {
  return r as unknown as Route;
}

/** A file to save. */
export interface FileAnswer {
  name: string;
  text: string;
}
