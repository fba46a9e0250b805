/** A state at which an amount of gas is named as a volume. A "standard litre" without one is ambiguous by up to 9 %. */
export interface ReferenceState {
  readonly id: string;
  readonly temperatureK: number;
  readonly pressurePa: number;
  readonly source: string;
}

export const referenceStates = {
  room: { id: '20 °C, 101 325 Pa', temperatureK: 293.15, pressurePa: 101_325, source: 'common practice' },
  normal: { id: '0 °C, 101 325 Pa', temperatureK: 273.15, pressurePa: 101_325, source: 'DIN 1343 (from memory)' },
  iupac: { id: '0 °C, 100 kPa', temperatureK: 273.15, pressurePa: 100_000, source: 'IUPAC (from memory)' },
  iso2533: { id: '15 °C, 101 325 Pa', temperatureK: 288.15, pressurePa: 101_325, source: 'ISO 2533, ISO 13443 (from memory)' },
  anr: { id: '20 °C, 100 kPa', temperatureK: 293.15, pressurePa: 100_000, source: 'ISO 8778 (from memory)' },
  scfm: { id: '60 °F, 14.696 psi', temperatureK: 288.7055555555556, pressurePa: 14.696 * 6894.757293168361, source: 'common practice' },
} as const satisfies Readonly<Record<string, ReferenceState>>;
