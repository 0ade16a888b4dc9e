export { settingsText } from './book-lifecycle';
