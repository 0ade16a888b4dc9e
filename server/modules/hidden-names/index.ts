export { HiddenNames, Names, NO_NAMES_HIDDEN, namesHidden, showFirst } from './names';
export { nameless, veiledBook, veilOf } from './nameless-rows';
export { hiddenIn } from './sql';
export { Veil } from './veil';
