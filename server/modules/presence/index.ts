export { Live } from './live';
export { changedSince, newsFor, visit } from './sql';
