export { hashPassword } from './password';
export { Admission, type Known, type Lately, type LetIn, stillSo } from './sql/admission';
export { type Person, anySchool, findSchool, personByLogins, personName } from './sql/persons';
