export { datesOfStudents, ownPlace, placeOf } from './facts';
export { brokenUploads } from './broken-uploads';
export { filesJob } from './files-job';
export { submissionKinds } from './journal-kinds';
export { studentAssessment } from './student-work';
