export { benches, trades, type Bench, type Benches } from './bench';
export { handAt, movesAt, rigFor, truthOf, type DefiniteMove } from './hand';
export { perform, type Practice } from './perform';
export { findsOf, type Finds } from './finds';
export { exampleOf, type ExampleRun } from './exampleRun';
export { chanceOf, lie, type Chance, type Lie, type Lying } from './liar';
export { isUnfindable, unfindable, type Unfindable } from './unfindable';
export { practiceOf, practiceRun, type PracticeOptions, type PracticeRun } from './practiceRun';
export { deviceSetups, setupFor, type DeviceSetup, type Setup } from './setup';
