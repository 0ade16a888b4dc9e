import { Problem } from '@contract/wire/problem';
import type { Route } from './route';
import { API } from './mount';

/** OpenAPI 3.1 from the routes and the schemas that check them. */
export function openApi(routes: readonly Route[]): object {
  const paths: Record<string, Record<string, unknown>> = {};
  for (const r of routes) {
    const path = (paths[API + r.path] ??= {});
    const parameters = [...r.path.matchAll(/\{(\w+)\}/g)].map((m) => ({
      name: m[1],
      in: 'path',
      required: true,
      schema: { type: 'string' },
    }));
    const content =
      r.answer === 'text/csv'
        ? { 'text/csv': { schema: { type: 'string' } } }
        : r.stream
          ? { 'text/event-stream': { schema: r.answer } }
          : { 'application/json': { schema: r.answer } };
    path[r.method] = {
      summary: r.summary,
      'x-permission': r.permission,
      ...(parameters.length > 0 ? { parameters } : {}),
      ...(r.body ? { requestBody: { required: true, content: { 'application/json': { schema: r.body } } } } : {}),
      responses: {
        [String(r.status ?? 200)]: { description: 'Done.', content },
        default: {
          description: 'Refused, with the reason.',
          content: { 'application/problem+json': { schema: Problem } },
        },
      },
    };
  }
  return { openapi: '3.1.0', info: { title: 'Last Tally', version: '1' }, paths };
}
