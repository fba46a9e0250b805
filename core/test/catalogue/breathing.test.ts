import { trades } from '../../src/practice';
import { carriedOut } from './cases';

carriedOut(trades.breathing, trades.suits, trades.anaesthesia);
