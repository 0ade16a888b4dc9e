export { settingsText } from './book-lifecycle';
export { makeTerm } from './terms';
export { lifecycleKinds } from './journal-kinds';
