export { columnFluids, columnPressure, type ColumnFluid } from './column';
export { convert, decimal, decimalIn, roundHalfUp, sameDimension, significant, type Decimal } from './convert';
export { quantity, type Quantity } from './quantity';
export { decimalsOf, showClock, showDecimal, showQuantity, unitLabel } from './show';
export { baseUnits, unitRow, units, type Dimension, type Unit, type UnitRow } from './unit';
