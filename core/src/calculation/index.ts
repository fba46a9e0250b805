export { calculate, calculationById, calculations, type Calculation, type CalculationInput, type CalculationResult, type Outcome } from './calculations';
