export { groupsOfStudents, viewsOf } from './sql';
export { groupKinds } from './journal-kinds';
