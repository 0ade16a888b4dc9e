export { changeCells, currentCells } from './change-cells';
export { endExceptions, enrolText, overrideText, requireReason, requireReasonFor } from './exceptions';
export { ScoreGate } from './score-batcher';
export { WHOLE, putEnds } from './sql/exception-ends';
