import { trades } from '../../src/practice';
import { carriedOut } from './cases';

carriedOut(trades.cylinders, trades.tanks, trades.valves, trades.stores);
