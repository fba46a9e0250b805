/** A UCUM code, for example `[psi]`, `mbar` or `[in_i'H2O]`. */
export type Unit = string;

export type Dimension =
  'pressure' | 'time' | 'length' | 'volume' | 'flow' | 'temperature' | 'mass' | 'frequency' | 'compliance' | 'torque' | 'force' | 'number';

/**
 * One row of the unit table. The factor to the dimension's base unit is kept as an exact fraction of decimals, because a factor
 * such as psi → Pa has no finite decimal: value_in_base = value · numerator ÷ denominator (+ offset).
 */
export interface UnitRow {
  readonly code: Unit;
  readonly dimension: Dimension;
  readonly numerator: string;
  readonly denominator: string;
  /** Added after scaling; only the temperature scales have one. */
  readonly offset: string;
  /** How the unit is written on a gauge or in a log. */
  readonly label: string;
}

const row = (code: Unit, dimension: Dimension, numerator: string, label = code, denominator = '1', offset = '0'): UnitRow => ({
  code,
  dimension,
  numerator,
  denominator,
  offset,
  label,
});

/** Factors: NIST SP 811 appendix B and the UCUM definitions; water columns are the conventional ones (1 mmH2O = 9.80665 Pa). From memory. */
const rows: readonly UnitRow[] = [
  row('Pa', 'pressure', '1'),
  row('kPa', 'pressure', '1000'),
  row('mbar', 'pressure', '100'),
  row('bar', 'pressure', '100000'),
  row('[psi]', 'pressure', '4.4482216152605', 'psi', '0.00064516'),
  row("[in_i'H2O]", 'pressure', '249.08891', 'inH2O'),
  row('mm[H2O]', 'pressure', '9.80665', 'mmH2O'),
  row('cm[H2O]', 'pressure', '98.0665', 'cmH2O'),
  row('atm', 'pressure', '101325'),
  row('hPa', 'pressure', '100'),
  row('MPa', 'pressure', '1000000'),
  row('kgf/cm2', 'pressure', '98066.5', 'kgf/cm²'),
  row('mm[Hg]', 'pressure', '133.322387415', 'mmHg'),
  row("[in_i'Hg]", 'pressure', '3386.38864034', 'inHg'),
  row('ms', 'time', '1', 'ms', '1000'),
  row('s', 'time', '1'),
  row('min', 'time', '60'),
  row('h', 'time', '3600'),
  row('d', 'time', '86400'),
  row('m', 'length', '1'),
  row('mm', 'length', '1', 'mm', '1000'),
  row('cm', 'length', '1', 'cm', '100'),
  row('[in_i]', 'length', '0.0254', 'in'),
  row('km', 'length', '1000'),
  row('[mi_i]', 'length', '1609.344', 'mi'),
  row('m3', 'volume', '1', 'm³'),
  row('L', 'volume', '1', 'L', '1000'),
  row('mL', 'volume', '1', 'mL', '1000000'),
  row('[gal_us]', 'volume', '0.003785411784', 'US gal'),
  row('[gal_br]', 'volume', '0.00454609', 'UK gal'),
  row('[cin_i]', 'volume', '0.000016387064', 'in³'),
  row('[cft_i]', 'volume', '0.028316846592', 'ft³'),
  row('m3/s', 'flow', '1', 'm³/s'),
  row('L/min', 'flow', '1', 'L/min', '60000'),
  row('mL/min', 'flow', '1', 'mL/min', '60000000'),
  row('[cft_i]/h', 'flow', '0.028316846592', 'ft³/h', '3600'),
  row('[cft_i]/min', 'flow', '0.028316846592', 'ft³/min', '60'),
  row('kg', 'mass', '1'),
  row('g', 'mass', '1', 'g', '1000'),
  row('[lb_av]', 'mass', '0.45359237', 'lb'),
  row('N.m', 'torque', '1', 'N·m'),
  row('[ft_i].[lbf_av]', 'torque', '1.3558179483314004', 'ft·lb'),
  row('[in_i].[lbf_av]', 'torque', '0.1129848290276167', 'in·lb'),
  row('kgf.m', 'torque', '9.80665', 'kgf·m'),
  row('N', 'force', '1'),
  row('kgf', 'force', '9.80665'),
  row('[lbf_av]', 'force', '4.4482216152605', 'lbf'),
  row('Hz', 'frequency', '1'),
  row('/min', 'frequency', '1', '/min', '60'),
  row('K', 'temperature', '1'),
  row('Cel', 'temperature', '1', '°C', '1', '273.15'),
  row('[degF]', 'temperature', '5', '°F', '9', '255.3722222222222222222222'),
  row('m3/Pa', 'compliance', '1', 'm³/Pa'),
  row('mL/cm[H2O]', 'compliance', '1', 'mL/cmH2O', '98066500'),
  row('1', 'number', '1', ''),
  row('%', 'number', '1', '%', '100'),
];

/** The unit that each kind of thing is computed in. */
export const baseUnits: Readonly<Record<Dimension, Unit>> = {
  pressure: 'Pa',
  time: 's',
  length: 'm',
  volume: 'm3',
  flow: 'm3/s',
  temperature: 'K',
  mass: 'kg',
  frequency: 'Hz',
  compliance: 'm3/Pa',
  torque: 'N.m',
  force: 'N',
  number: '1',
};

const byCode: ReadonlyMap<Unit, UnitRow> = new Map(rows.map((r) => [r.code, r]));

/** Every unit the program knows, in the order of the table. */
export const units: readonly UnitRow[] = rows;

/**
 * Looks a unit up by its UCUM code.
 * @returns the row, or undefined when the code is not known: the edges of the program turn that into a coded error.
 * @example unitRow('[psi]')?.label // 'psi'
 */
export function unitRow(code: Unit): UnitRow | undefined {
  return byCode.get(code);
}
