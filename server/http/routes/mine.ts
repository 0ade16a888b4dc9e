import { MyBook, MyBooks } from '@contract/pages';
import { myBook, myBooks } from '../../domain/mine';
import { snapshot } from '../../store/database';
import { route, type Route } from '../route';

export const mineRoutes: Route[] = [
  route({
    method: 'get',
    path: '/my/books',
    permission: 'student',
    says: 'The books of the student who asks.',
    answer: MyBooks,
    does: ({ pool, school, person }) => myBooks(pool, school, person.id),
  }),
  route({
    method: 'get',
    path: '/my/books/{book}',
    permission: 'student',
    says: 'What the student who asks sees of one book.',
    answer: MyBook,
    does: ({ pool, school, person, params }) => snapshot(pool, (db) => myBook(db, school, person.id, params['book']!)),
  }),
];
