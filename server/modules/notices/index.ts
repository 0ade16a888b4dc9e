export { insertNotices } from './sql';
