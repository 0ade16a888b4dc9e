export { datesOfStudents, ownPlace, placeOf } from './facts';
export { brokenUploads } from './uploads/broken-uploads';
export { filesJob } from './uploads/files-job';
export { submissionKinds } from './journal-kinds';
export { studentAssessment } from './student-work';
