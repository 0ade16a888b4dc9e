export { gatheredMailJob } from './gathered-mail-job';
export { tellStudents, tellStaff } from './tell';
export { insertNoticeRows } from './sql';
