import type { AccountRole, Me } from '@grellin/contract';
import type { FastifyRequest } from 'fastify';
import { Coded } from '../base';

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
