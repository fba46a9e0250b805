export { predictUse, trendOf, type Crossing, type Line, type Trend, type TrendPoint } from './trend';
