import type { AccountRole, Me } from '@grellin/contract';
import type { FastifyRequest } from 'fastify';
import type { Config } from './config';
import type { Connection } from './db/database';
import { Coded } from './errors';
import type { Devices } from './instrument/devices';
import type { FanOut } from './run/fanOut';
import type { LiveRuns } from './run/live';
import type { OpenStreams } from './run/openStreams';

/** What the routes work with. The clock is passed in, so that tests can hold it. */
export interface Context {
  readonly config: Config;
  readonly connection: Connection;
  readonly live: LiveRuns;
  readonly devices: Devices;
  readonly fanOut: FanOut;
  readonly streams: OpenStreams;
  readonly now: () => Date;
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
