import { Malformed, Refused, type Problem } from '@grellin/contract';
import type { FastifyError, FastifyInstance } from 'fastify';
import { Coded, errorCodes } from '../base';
import { isAway, isNoValue } from '../db';

/** Turns whatever went wrong into a coded answer. What we did not foresee is logged and told apart from what the client did. */
function answerTo(error: FastifyError | Error): { readonly status: number; readonly problem: Problem } {
  if (error instanceof Coded) return { status: error.status, problem: { code: error.code, message: error.message, values: error.values } };
  if (error instanceof Refused) return { status: errorCodes[error.code], problem: { code: error.code, message: error.message, values: error.values } };
  if (error instanceof Malformed) return { status: 400, problem: { code: 'malformed', message: error.message, flaws: error.flaws } };
  if (isAway(error))
    return { status: 503, problem: { code: 'database.away', message: 'The database cannot be reached just now. Nothing was changed: try again.' } };
  if (isNoValue(error)) return { status: 400, problem: { code: 'value.impossible', message: 'A value in this request is none that could be kept.' } };
  const code = 'code' in error ? error.code : '';
  if (code === 'FST_ERR_CTP_BODY_TOO_LARGE') return { status: 413, problem: { code: 'body.tooLarge', message: 'The body is too large.' } };
  if (code === 'FST_ERR_CTP_INVALID_MEDIA_TYPE') return { status: 415, problem: { code: 'body.type', message: 'The body must be JSON.' } };
  const status = 'statusCode' in error ? error.statusCode : undefined;
  if (status !== undefined && status >= 400 && status < 500) return { status: 400, problem: { code: 'json', message: 'The request cannot be read.' } };
  return { status: 500, problem: { code: 'server.fault', message: 'The server could not do this. Nothing was changed.' } };
}

/** What is logged of a fault: a database's own message, without the values of the query that it was given. */
function withoutParameters(error: Error): Record<string, unknown> {
  const cause = error.cause instanceof Error ? error.cause : error;
  const { code } = cause as { readonly code?: unknown };
  return { fault: cause.message, ...(code === undefined ? {} : { code }), stack: cause.stack ?? error.stack };
}

/** Lets every fault of a request become a coded answer, and every refusal be logged by its code and route: what was sent may hold names and secrets. */
export function answerFaults(app: FastifyInstance): void {
  app.setErrorHandler((error: FastifyError, request, reply) => {
    const { status, problem } = answerTo(error);
    if (status >= 500) request.log.error(withoutParameters(error));
    else request.log.warn({ code: problem.code, status, route: request.routeOptions.url ?? null, by: request.me?.id ?? null }, 'refused');
    const wait = status === 503 ? '1' : problem.code === 'signIn.tooMany' ? problem.values?.['seconds'] : undefined;
    if (wait !== undefined) reply.header('retry-after', wait);
    return reply.code(status).send(problem);
  });
  app.setNotFoundHandler((_request, reply) => reply.code(404).send({ code: 'route.unknown', message: 'There is nothing here.' } satisfies Problem));
}
