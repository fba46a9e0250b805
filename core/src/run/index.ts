export type * from './event';
export { fold, foldAll } from './fold';
export { endedBy, findingsOf, judge, requiredStages, verdictWord, type RunResult } from './judge';
export { may, type Refusal, type RefusalCode } from './may';
export { next, type Next } from './next';
export { instrumentsOf, readingsOf, recordOf } from './stageRecord';
export { emptyRun, openAttempt, type Attempt, type Chunk, type RunState } from './state';
export { items } from './trail';
export { confidenceInWords, findingInWords, headline, reasonInWords, refusalCodes, refusalInWords } from './words';
