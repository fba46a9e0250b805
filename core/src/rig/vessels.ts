import { vesselRig } from './vessel';

const GALLON = 0.003785411784;
const INCH_H2O = 249.08891;

/** A face-piece on its test head, under suction. */
export const facePieceRig = vesselRig({
  id: 'face-piece',
  title: 'Face-piece on the test head',
  volume: 0.0025,
  compliance: 2e-9,
  soakS: 2,
  testPa: -1000,
  fillS: 8,
  faults: {
    none: { leak: 3e-4, kitLeak: 1e-5 },
    'outlet valve': { leak: 4e-3, kitLeak: 1e-5 },
    'visor frame': { leak: 8e-3, kitLeak: 1e-5 },
    'valve missing': { leak: 0.5, kitLeak: 1e-5 },
    'kit hose': { leak: 3e-4, kitLeak: 2e-3 },
  },
});

/** A diver's dry suit, plugged and inflated. */
export const drySuitRig = vesselRig({
  id: 'dry-suit',
  title: 'Dry suit, plugged and inflated',
  volume: 0.08,
  compliance: 8e-7,
  soakS: 14,
  testPa: 1500,
  fillS: 30,
  faults: {
    none: { leak: 2e-6 },
    pinhole: { leak: 3e-4, spots: { 'body-front': 1 } },
    'two seams': { leak: 6e-4, spots: { crotch: 0.5, back: 0.5 } },
    'valve seat': { leak: 4e-4, spots: { valves: 1 } },
    'cuff torn': { leak: 0.5, spots: { sleeves: 1 }, wrong: ['springs-back'] },
    'nicked neck seal': { leak: 1e-5, wrong: ['seals'] },
  },
});

/** A transport tank of a cubic metre under 20 kPa of air. */
export const ibcRig = vesselRig({
  id: 'ibc',
  title: 'Transport tank under air',
  volume: 1,
  soakS: 25,
  testPa: 20_500,
  fillS: 60,
  faults: {
    none: { leak: 1e-8 },
    'manhole gasket': { leak: 3e-4, spots: { manhole: 1 } },
    'outlet valve': { leak: 2e-4, spots: { outlet: 1 } },
    'manhole left open': { leak: 0.2, spots: { manhole: 1 } },
    'not gas-free': { leak: 1e-8, wrong: ['clean'] },
  },
});

const tankVapour = { perK: 500, tauS: 900 } as const;

/** The ullage of a fuel tank with its vapour lines, four thousand gallons. */
export const vapourTankRig = vesselRig({
  id: 'vapour-tank',
  title: 'Fuel tank with vapour lines',
  volume: 4000 * GALLON,
  soakS: 40,
  testPa: 10 * INCH_H2O,
  fillS: 240, // 3.3 ft³/min
  vapour: tankVapour,
  faults: {
    none: { leak: 5e-6, kitLeak: 2e-4 },
    'cap left off': { leak: 0.04, kitLeak: 2e-4, spots: { 'fill-cap': 1 } },
    'vent cap': { leak: 9e-4, kitLeak: 2e-4, spots: { vent: 1 } },
    'drop-tube adapter': { leak: 2.5e-4, kitLeak: 2e-4, spots: { adapters: 1 } },
    'assembly hose': { leak: 5e-6, kitLeak: 0.06 },
    'sun on the vent': { leak: 5e-6, kitLeak: 2e-4, drift: 0.0002 },
  },
});

/** A compartment of a cargo tank, nine thousand gallons, with its vapour header. */
export const cargoTankRig = vesselRig({
  id: 'cargo-tank',
  title: 'Cargo tank compartment',
  volume: 9000 * GALLON,
  soakS: 40,
  testPa: 18 * INCH_H2O,
  fillS: 60,
  second: 0.3,
  faults: {
    none: { leak: 2e-5 },
    'hatch gasket': { leak: 6e-4, spots: { hatch: 1 } },
    'inside vapour valve': { leak: 2e-5, passing: 6e-5 },
  },
});

/** A sealed silo's head-space. */
export const storeRig = vesselRig({
  id: 'store',
  title: 'Sealed store',
  volume: 100,
  soakS: 30,
  testPa: 250,
  fillS: 40,
  faults: {
    none: { leak: 1.3e-3 },
    'hatch seal': { leak: 5e-3, spots: { 'top-hatch': 1 } },
    'fan inlet': { leak: 8e-3, spots: { 'fan-inlet': 1 } },
    'hatch left open': { leak: 0.3, spots: { 'top-hatch': 1 } },
    'morning sun': { leak: 1.3e-3, drift: 0.002 },
    'perished rubber': { leak: 5.5e-3, wrong: ['hatches'], spots: { 'outlet-lid': 1 } },
  },
});
