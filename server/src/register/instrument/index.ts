export { deviceKey, Devices, type InputAddress, parseAddress } from './devices';
export { instrumentRoutes } from './routes';
export {
  fallingDue,
  fittedTo,
  holdDevices,
  insertInstruments,
  instrumentById,
  instrumentCopy,
  type InstrumentEntity,
  type InstrumentFacts,
  instrumentFacts,
  instrumentRow,
  instrumentsById,
  listInstruments,
  withItem,
} from './store';
