/** Bags that exist, L. Source: common practice. */
const bags = [0.5, 1, 2, 3, 5, 15, 30] as const;

export interface BagAdvice {
  /** The bag by 1 L for each 10 kg, L. */
  readonly byMass: number;
  /** What the tidal volume asks for, L: 10–15 mL/kg, five to six breaths. */
  readonly tidalLow: number;
  readonly tidalHigh: number;
  /** Whether the bag chosen by mass lies in the tidal rule's span, rounded up to bags that exist. */
  readonly agree: boolean;
}

const atLeast = (litres: number): number => bags.find((b) => b >= litres) ?? 30;

/**
 * Size of the breathing bag by both of the trade's rules.
 * Source: veterinary anaesthesia textbooks, common practice.
 * @throws RangeError for a mass that is not above 0
 * @example bagSize(22).byMass // 3: 2.2 L, rounded up to a bag that exists
 */
export function bagSize(massKg: number): BagAdvice {
  if (!(massKg > 0)) throw new RangeError('a body mass must be above 0');
  const byMass = atLeast(massKg / 10);
  const tidalLow = (10 * 5 * massKg) / 1000;
  const tidalHigh = (15 * 6 * massKg) / 1000;
  return { byMass, tidalLow, tidalHigh, agree: byMass >= tidalLow && byMass <= atLeast(tidalHigh) };
}
