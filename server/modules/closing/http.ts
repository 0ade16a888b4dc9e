import { finalGrades } from './final-grades';
import { snapshot } from '../../kernel/database';
import { route, type Route } from '../../http/route';
export const closingRoutes: Route[] = [
  route({
    method: 'get',
    path: '/books/{book}/final-grades.csv',
    permission: 'book-read',
    names: 'named',
    summary: 'The final grades of the book as a CSV file.',
    answer: 'text/csv',
    handler: ({ pool, school, params }) => snapshot(pool, (db) => finalGrades(db, school, params['book']!)),
  }),
];
