export { linesAfter } from './sql/journal-pages';
