export { type ClockReading, type Clocks, machineClocks, steadyHours } from './clocks';
export { bareConfig, type Config, configFrom, type InstrumentEntry, isLoopback, parseInstruments } from './config';
export { Coded, errorCodes } from './errors';
export { Moment } from './moment';
export { COUNTED, cursorOf, inPattern, keyOf, LEAST_LETTERS, PAGE, type PageKey } from './pageKey';
export { Together } from './together';
