import type { AttributeRef, Channel } from '../term';

/** What is known of the gas in a vessel under test, so that a loss can be said in other terms and drift be told from a leak. */
export interface GasFacts {
  /** The inside volume: without it no flow is named. */
  readonly volume?: AttributeRef;
  /** Its walls give way, so that a flow from the pressure alone is only a lower bound. */
  readonly flexible?: true;
  /** Somebody breathes from it: the leak is also said in minutes of air. */
  readonly breathed?: true;
  /** Channels that read the gas temperature and the barometer, where they are fitted. */
  readonly temperature?: Channel;
  readonly barometer?: Channel;
}
