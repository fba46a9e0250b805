import { STANDARD_ATMOSPHERE_PA as P0 } from '../physics';
import type { Grade, Id } from '../procedure';
import type { Rig } from './rig';

const CM = 98.0665;
/** Hoses and absorber, m³; the bag is slack at nothing and holds this much when it begins to stretch. */
const RIGID = 3e-3;
const BAG = 2e-3;
/** The bag gives this much for each Pa up to where it yields, and far more above: it is made to cap the pressure. */
const BAG_GIVES = 15e-6 / CM;
const BAG_YIELDS = 45 * CM;
const BAG_GIVES_MORE = 120e-6 / CM;
const FLUSH_M3S = 4e-4;
const NEAR = 3 * CM;
const VALVE_M3S_PA = 2e-7;
/** A hand on the needle valve: how much it opens for each cmH2O missing, and how fast it goes on turning. */
const GRIP_M3S = 5e-6;
const TURN_M3S2 = 5e-7;

interface CircuitFault {
  /** Leak at 30 cmH2O, mL/min. */
  readonly leak: number;
  readonly opensAt?: number;
  readonly supplied?: false;
  /** The relief valve lets the pressure fall to this and no further, cmH2O. */
  readonly sticksAt?: number;
  readonly wrong?: readonly Id[];
  /** Where soap bubbles while it is filled. */
  readonly bubbles?: Readonly<Record<Id, Grade>>;
}

const faults: Readonly<Record<string, CircuitFault>> = {
  none: { leak: 40 },
  'absorber seal': { leak: 420, bubbles: { absorber: 'stream' } },
  'hose crack': { leak: 900, bubbles: { hoses: 'stream' } },
  // More than the flush brings.
  'hole in the bag': { leak: 60_000, wrong: ['bag-taut'], bubbles: { bag: 'grows' } },
  'valve opens early': { leak: 40, opensAt: 18, bubbles: { 'relief-valve': 'stream' } },
  'valve never opens': { leak: 40, opensAt: 500, wrong: ['valve-gives'] },
  'relief valve sticks': { leak: 40, wrong: ['falls-to-zero'], sticksAt: 12 },
  'sticking disc': { leak: 40, wrong: ['both-flutter'] },
  // The gas goes to the other outlet.
  'outlet selector elsewhere': { leak: 40, supplied: false, wrong: ['outlet-chosen', 'bag-taut'] },
  'relief valve left open': { leak: 90_000, wrong: ['closed-off', 'bag-taut'], bubbles: { 'relief-valve': 'grows' } },
  'inner limb loose': { leak: 40, wrong: ['inner-holds', 'bobbin-drops'] },
};

export interface CircuitState {
  /** Gas in the circuit, as m³ at the atmosphere. */
  readonly held: number;
  readonly filling: number | null;
  /** Flow that a hand at the needle valve has set, m³/s. */
  readonly flow: number;
  readonly still: number | null;
  /** Where the needle valve has been turned to, m³/s. */
  readonly turned: number;
  readonly reliefOpen: boolean;
  readonly squeezed: number;
  readonly opensAt: number;
  readonly fault: CircuitFault;
}

/** How much air it takes to bring the circuit to a pressure, m³ at the atmosphere. */
function heldAt(p: number): number {
  const bag = BAG + BAG_GIVES * Math.min(p, BAG_YIELDS) + BAG_GIVES_MORE * Math.max(0, p - BAG_YIELDS);
  return ((RIGID + bag) * (p + P0)) / P0;
}

/** The pressure of an amount, by halving: the bag's curve has a corner, and a step of Newton could jump over it. */
function pressureOf(held: number, squeezed: number): number {
  if (held + squeezed <= heldAt(0)) return 0;
  let low = 0;
  let high = 300 * CM;
  for (let turn = 0; turn < 50; turn++) {
    const middle = (low + high) / 2;
    if (heldAt(middle) < held + squeezed) low = middle;
    else high = middle;
  }
  return (low + high) / 2;
}

const pressure = (s: CircuitState): number => pressureOf(s.held, s.squeezed);
const opened = (s: CircuitState): boolean => pressure(s) >= s.opensAt;

/** A breathing circuit with valves, a bag that gives way and yields, a relief valve and a needle valve that a hand sets. */
export const circuitRig: Rig<CircuitState> = {
  id: 'circuit',
  title: 'Breathing circuit',
  inputs: ['p1', 'f1'],
  actions: [
    { act: 'open all', label: 'Everything open' },
    { act: 'fill', label: 'Fill to', aims: true },
    { act: 'leave', label: 'Flow off, hands off' },
    { act: 'still', label: 'Hold it still with the flow', aims: true },
    { act: 'squeeze', label: 'Squeeze the bag' },
    { act: 'let go', label: 'Let go of the bag' },
    { act: 'release', label: 'Open the relief valve' },
  ],
  faults: Object.keys(faults),
  make: (name) => {
    const fault = faults[name];
    if (!fault) throw new RangeError(`the circuit has no fault ${name}`);
    return { held: heldAt(0), filling: null, flow: 0, turned: 0, still: null, reliefOpen: false, squeezed: 0, opensAt: (fault.opensAt ?? 32) * CM, fault };
  },
  step: (s, dtS) => {
    const p = pressure(s);
    const leak = (s.fault.leak / 6e7 / (30 * CM)) * p;
    const fill = s.filling === null || s.fault.supplied === false ? 0 : Math.max(0, Math.min(1, (s.filling - p) / NEAR)) * FLUSH_M3S;
    // A hand on the needle valve turns it by how far the needle is off, and on while it stays off.
    const off = s.still === null ? 0 : (s.still - p) / CM;
    const turned = s.still === null ? 0 : Math.max(0, s.turned + off * TURN_M3S2 * dtS);
    const flow = s.still === null || s.fault.supplied === false ? 0 : Math.max(0, turned + off * GRIP_M3S);
    const popped = p >= s.opensAt ? (p - s.opensAt) * VALVE_M3S_PA + 1e-6 : 0;
    const out = leak + (s.reliefOpen ? Math.max(0, p - (s.fault.sticksAt ?? 0) * CM) * VALVE_M3S_PA * 10 : 0) + popped;
    const held = Math.max(heldAt(0) * 0.5, s.held + (fill + flow - out) * dtS);
    return { ...s, held, flow, turned, squeezed: s.squeezed > 0 && !opened(s) ? s.squeezed + 6e-5 * dtS : s.squeezed };
  },
  act: (s, { act, to = 0 }) => {
    switch (act) {
      case 'open all':
        return { ...s, held: heldAt(0), filling: null, still: null, flow: 0, squeezed: 0, reliefOpen: true };
      case 'fill':
        return { ...s, filling: to, still: null, flow: 0, reliefOpen: false };
      case 'leave':
        return { ...s, filling: null, still: null, flow: 0 };
      case 'still':
        return { ...s, filling: null, still: to > 0 ? to : pressure(s), flow: 0, turned: 0 };
      case 'let go':
        return { ...s, squeezed: 0 };
      case 'squeeze':
        return { ...s, squeezed: Math.max(s.squeezed, 1e-9), filling: null };
      case 'release':
        return { ...s, reliefOpen: true, filling: null, still: null, flow: 0, squeezed: 0 };
      default:
        throw new RangeError(`the circuit cannot ${act}`);
    }
  },
  values: (s) => ({ p1: pressure(s), f1: s.flow }),
  happening: (s) => new Set(s.squeezed > 0 && opened(s) ? ['opens'] : []),
  signs: (s) => ({ wrong: new Set(s.fault.wrong), bubbles: s.fault.bubbles ?? {} }),
};
