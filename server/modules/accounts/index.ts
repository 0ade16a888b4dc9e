export { offerSetup } from './first-school';
export { hashPassword } from './password';
export {
  Admission,
  deleteOldGuesses,
  type Identity,
  type CachedAdmission,
  type Grant,
  grantsStillValid,
} from './sql/admission';
export { type Person, anyDemo, anySchool, findPerson, findSchool, personByLogins, personName } from './sql/persons';
