export { type ClockReading, type Clocks, machineClocks, steadyHours } from './clocks';
export { bareConfig, type Config, configFrom, type InstrumentEntry, isLoopback, parseInstruments } from './config';
export { Coded, errorCodes } from './errors';
export { Moment } from './moment';
export { Together } from './together';
