export { settingsText } from './book-lifecycle';
export { makeTerm } from './terms';
