export { requireReason, requireReasonFor } from './exception-reasons';
export { overrideText } from './overrides';
export { endExceptions } from './exception-ends';
export { changeCells, currentCells } from './change-cells';
export { enrolText } from './exceptions';
export { ScoreBatcher } from './score-batcher';
export { WHOLE, putEnds } from './sql/exception-ends';
