export { columnFluids, columnPressure, type ColumnFluid } from './column';
export { convert, decimal, decimalIn, roundHalfUp, sameDimension, significant, type Decimal } from './convert';
export { preferred, scaleOf, scales, unitsOf, type Preferred, type Scale, type UnitChoices } from './preference';
export { quantity, type Quantity } from './quantity';
export { decimalsOf, showClock, showDecimal, showQuantity, unitLabel } from './show';
export { baseUnits, unitRow, units, type Dimension, type Unit, type UnitRow } from './unit';
export { isFiner, numbersIn, quantitiesIn } from './written';
