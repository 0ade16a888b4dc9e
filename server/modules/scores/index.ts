export { requireReason, requireReasonFor } from './exception-reasons';
export { overrideText } from './overrides';
export { exceptionEndsJob } from './exception-ends';
export { changeCells, currentCells } from './change-cells';
export { enrolText } from './exceptions';
export { ScoreBatcher } from './score-batcher';
export { type ReopeningRow, reopeningsBy, reopeningsOf } from './sql/reopenings';
export { WHOLE, putEnds } from './sql/exception-ends';
export { CELL_FORMAT, scoreKinds } from './journal-kinds';
