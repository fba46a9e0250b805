export { benches, trades, type Bench, type Benches } from './bench';
export { handAt, movesAt, rigFor, truthOf, type DefiniteMove } from './hand';
export { perform, type Practice } from './perform';
export { exampleOf, type ExampleRun } from './exampleRun';
export { practiceRun, type PracticeOptions, type PracticeRun } from './practiceRun';
export { deviceSetups, setupFor, type DeviceSetup, type Setup } from './setup';
