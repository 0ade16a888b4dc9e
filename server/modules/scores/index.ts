export { changeCells, currentCells } from './change-cells';
export { endExceptions, enrolText, overrideText, requireReason, requireReasonFor } from './exceptions';
export { ScoreBatcher } from './score-batcher';
export { WHOLE, putEnds } from './sql/exception-ends';
