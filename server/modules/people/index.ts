export { passwordLinkFor } from './password-links';
export { peopleKinds } from './journal-kinds';
