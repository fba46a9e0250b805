export { predictUse, trendOf, type Crossing, type Line, type Trend, type TrendPoint } from './trend';
export { outlook, type Outlook, type UsedOn } from './proposal';
