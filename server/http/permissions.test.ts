import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import express from 'express';
import { allRoutes } from '../routes';
import { journalKinds } from '../journal-kinds';
import { mount } from './mount';
import type { Permission, Route } from './route';
import { Live } from '../modules/presence';
import { Person } from '../testing/person';
import { testSchool, type TestSchool } from '../testing/school';

type Role = 'nobody' | 'student' | 'teacher' | 'co-teacher' | 'marker' | 'reviewer' | 'stranger' | 'administrator';
const ROLES: Role[] = ['nobody', 'student', 'teacher', 'co-teacher', 'marker', 'reviewer', 'stranger', 'administrator'];
const STAFF: Role[] = ['teacher', 'co-teacher', 'marker', 'reviewer', 'stranger'];

/** Who may, for the book "fens", of which "stranger" is no teacher. */
const MAY: Record<Permission, readonly Role[]> = {
  anyone: ROLES,
  'signed-in': ROLES.filter((r) => r !== 'nobody'),
  office: ['administrator'],
  staff: STAFF,
  'staff-or-office': [...STAFF, 'administrator'],
  student: ['student'],
  'book-read': ['teacher', 'co-teacher', 'marker', 'reviewer', 'administrator'],
  'book-scores': ['teacher', 'co-teacher', 'marker'],
  'book-manage': ['teacher', 'co-teacher'],
  'book-make': ['teacher', 'co-teacher'],
  'book-own': ['teacher', 'co-teacher'],
  'book-work': ['teacher', 'co-teacher', 'administrator'],
  'book-people': ['teacher', 'co-teacher', 'administrator'],
  'book-office': ['administrator'],
};

let school: TestSchool;
let people: Record<Role, Person>;
/** Routes are only looked at here; none of these is served. */
const live = new Live(journalKinds, null as never, '', () => undefined);
beforeAll(async () => {
  school = await testSchool();
  people = {
    nobody: new Person(school.address),
    student: school.ada,
    teacher: school.teacher,
    'co-teacher': school.coTeacher,
    marker: school.marker,
    reviewer: school.reviewer,
    stranger: school.stranger,
    administrator: school.office,
  };
});
afterAll(() => school.close());

/** Refused at the door: nothing of the request itself was looked at. */
function refused(status: number, body: { detail?: string }): boolean {
  return status === 401 || status === 403 || (status === 404 && body?.detail === 'You have no such book.');
}

describe('routes × roles', () => {
  it('opens every door to those who may, and to nobody else', async () => {
    const wrong: string[] = [];
    for (const route of allRoutes(school.pool, live, () => undefined)) {
      // Signing in and out would change who is who; they have tests of their own.
      if (route.path === '/session' || route.path === '/setup') continue;
      for (const role of ROLES) {
        const path = route.path
          .replace('{book}', 'fens')
          .replace('{assessment}', 'moss')
          .replace('{enrolment}', school.adaId)
          .replace(/\{\w+\}/g, 'x');
        // A body that no schema takes: what is let in is refused for that, and changes nothing.
        const answer = await people[role].send<{ detail?: string }>(
          route.method,
          path,
          ['get', 'head'].includes(route.method) ? undefined : '{"nonsense": 1}',
        );
        const open = !refused(answer.status, answer.body);
        // A student may ask for their own books alone.
        const own = route.permission !== 'student' || path !== '/my/books/x';
        if (own && open !== MAY[route.permission].includes(role))
          wrong.push(`${route.method} ${path} as ${role}: ${answer.status}`);
      }
    }
    expect(wrong).toEqual([]);
  });

  it('lets a student into no book but their own', async () => {
    expect((await school.ada.send('GET', '/my/books/hills')).status).toBe(404);
    expect((await school.ada.send('GET', '/my/books/fens')).status).toBe(200);
  });

  it('does not start with a route that declares no permission', () => {
    const bare = {
      method: 'get',
      path: '/x',
      summary: '',
      answer: 'text/csv',
      handler: async () => null,
    } as unknown as Route;
    expect(() => mount(express(), [bare], {} as never)).toThrow(/declares no permission/);
  });

  it('describes every route with its permission in OpenAPI', async () => {
    const api = await school.ada.must<{ paths: Record<string, Record<string, { 'x-permission': string }>> }>(
      'GET',
      '/openapi.json',
    );
    for (const r of allRoutes(school.pool, live, () => undefined))
      expect(api.paths[`/api/v1${r.path}`]?.[r.method]?.['x-permission']).toBe(r.permission);
  });

  it('answers an address that is not there as problem+json', async () => {
    const answer = await school.teacher.send('GET', '/nothing');
    expect([answer.status, answer.headers.get('content-type'), answer.body['code']]).toEqual([
      404,
      'application/problem+json; charset=utf-8',
      'not-found',
    ]);
  });
});
