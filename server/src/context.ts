import type { AccountRole, Me } from '@grellin/contract';
import type { FastifyRequest } from 'fastify';
import type { Config } from './config';
import type { Connection } from './db/database';
import { Coded } from './errors';
import type { Devices } from './instrument/devices';
import type { FanOut } from './run/fanOut';
import type { LiveRuns } from './run/live';
import type { Papers } from './paper/pool';
import type { OpenStreams } from './run/openStreams';
import type { Clocks } from './station/clocks';
import type { Moment } from './station/moment';
import type { Station } from './station/store';

/** What the routes work with. The clock is passed in, so that tests can hold it. */
export interface Context {
  readonly config: Config;
  readonly connection: Connection;
  readonly live: LiveRuns;
  readonly devices: Devices;
  readonly fanOut: FanOut;
  readonly streams: OpenStreams;
  readonly station: Station;
  readonly papers: Papers;
  /** The server's clock, and what day it is at the station. */
  readonly now: () => Moment;
  /** For what may not end or last longer by a jump of the machine's clock: sessions. */
  readonly steady: () => Date;
  /** What a run's clock goes on by. */
  readonly clocks: Clocks;
  readonly today: () => string;
}

declare module 'fastify' {
  interface FastifyRequest {
    me: Me | null;
    sessionId: string | null;
  }
  interface FastifyContextConfig {
    /** The least role that may use the route; `anyone` needs no session. */
    readonly role?: AccountRole | 'anyone';
    /** It may be used with a one-time password, before that is changed. */
    readonly unchangedPassword?: true;
  }
}

/** The signed-in person. A route that needs one has it: the guard has seen to that. */
export function signedIn(request: FastifyRequest): Me {
  if (!request.me) throw new Coded('session.none', 'Sign in first.');
  return request.me;
}
