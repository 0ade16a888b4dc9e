export { gatheredMailJob } from './gathered-mail-job';
export { slipPath, tellStudents, tellStaff } from './tell';
export { insertNoticeRows, markPathSeen, noticesOf } from './sql';
