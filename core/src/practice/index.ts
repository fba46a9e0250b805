export { perform, type Practice } from './perform';
export { practiceRun, type PracticeOptions, type PracticeRun } from './practiceRun';
export { setupFor, type Setup } from './setup';
