export { groupsOfStudents, viewsOf } from './sql';
