export { airBrakeRig } from './airBrakes';
export { handAt, rigFor } from './hand';
export { LINE_MS, rigById, rigs, type AnyRig, type LoggedLine, type Logger } from './logger';
export { gaussian, uniform, type Random } from './random';
export type { Rig, RigAction } from './rig';
export { sense, type Sensor, type Sensors } from './sensor';
export { suitRig } from './suit';
