import { expose } from 'comlink';
import { codeIn } from './frame';

/** Looking for a code in a picture, off the main thread. */
const scanning = { codeIn };
export type Scanning = typeof scanning;

expose(scanning);
