export { letterKinds } from './journal-kinds';
