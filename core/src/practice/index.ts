export { perform, type Practice } from './perform';
export { practiceRun, type PracticeOptions, type PracticeRun } from './practiceRun';
export { deviceSetups, setupFor, type DeviceSetup, type Setup } from './setup';
