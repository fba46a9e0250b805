import { carriedOut } from './cases';

carriedOut('brakes.applied-loss', 'brakes.whole');
