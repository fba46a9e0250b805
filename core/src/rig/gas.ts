/** Molar gas constant, J/(mol·K): CODATA, exact since 2019. */
export const R = 8.314462618;
/** Heat capacity ratio of dry air. */
export const GAMMA = 1.4;

/** Gas in a vessel. */
export interface Gas {
  /** Amount, mol. */
  readonly mol: number;
  /** Mean temperature, K. */
  readonly temperature: number;
}

/**
 * Gas flows in from a supply at a temperature: the first law for a rigid vessel, dT = (γ·T_in − T)·dn ÷ n. A quick fill so warms the gas, and
 * what looks like a leak afterwards is its cooling.
 * @example admit({ mol: 1, temperature: 293.15 }, 0.1, 293.15).temperature // 303.81
 */
export function admit(gas: Gas, mol: number, supplyK: number): Gas {
  const total = gas.mol + mol;
  return total <= 0 ? gas : { mol: total, temperature: gas.temperature + ((GAMMA * supplyK - gas.temperature) * mol) / total };
}

/**
 * Gas joins at constant pressure (a slack skin fills without being squeezed): plain mixing.
 * @example mix({ mol: 1, temperature: 293.15 }, 0.5, 273.15).temperature // 286.4833
 */
export function mix(gas: Gas, mol: number, supplyK: number): Gas {
  const total = gas.mol + mol;
  return total <= 0 ? gas : { mol: total, temperature: gas.temperature + ((supplyK - gas.temperature) * mol) / total };
}

/**
 * Gas leaves: what stays expands and cools, dT = −(γ − 1)·T·dn ÷ n.
 * @example release({ mol: 1, temperature: 293.15 }, 0.1).temperature // 281.424
 */
export function release(gas: Gas, mol: number): Gas {
  const out = Math.min(mol, gas.mol * 0.5);
  return { mol: gas.mol - out, temperature: gas.temperature * (1 - ((GAMMA - 1) * out) / gas.mol) };
}

/**
 * The gas takes the temperature of its walls, exactly over the step, whatever its length.
 * @example soak({ mol: 1, temperature: 303.15 }, 293.15, 60, 60).temperature // 296.8288
 */
export function soak(gas: Gas, wallK: number, timeConstantS: number, dtS: number): Gas {
  return { mol: gas.mol, temperature: wallK + (gas.temperature - wallK) * Math.exp(-dtS / timeConstantS) };
}
