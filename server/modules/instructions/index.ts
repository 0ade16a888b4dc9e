export { handoutFile, instructions } from './instructions';
export { instructionKinds } from './journal-kinds';
export { copyInstructions, deleteInstructions, nameHandout } from './sql';
