import type { FastifyInstance, InjectOptions } from 'fastify';
import { Chance } from './chance';
import { nasty, spoiled, valueOf, type Shape, type Vocabulary } from './shape';

interface Operation {
  readonly method: 'GET' | 'POST' | 'PUT' | 'PATCH' | 'DELETE';
  readonly path: string;
  readonly body: Shape | null;
  readonly query: Readonly<Record<string, Shape>>;
  readonly requiredQuery: ReadonlySet<string>;
}

interface Described {
  readonly requestBody?: { readonly content: Readonly<Record<string, { readonly schema: Shape }>> };
  readonly parameters?: readonly { readonly in: string; readonly name: string; readonly required?: boolean; readonly schema: Shape }[];
}

/** Every operation that the server's own description names. */
export function operationsOf(spec: unknown): readonly Operation[] {
  const { paths } = spec as { readonly paths: Readonly<Record<string, Readonly<Record<string, Described>>>> };
  return Object.entries(paths).flatMap(([path, methods]) =>
    Object.entries(methods).map(([method, { requestBody, parameters = [] }]): Operation => {
      const asked = parameters.filter((p) => p.in === 'query');
      return {
        method: method.toUpperCase() as Operation['method'],
        path,
        body: Object.values(requestBody?.content ?? {})[0]?.schema ?? null,
        query: Object.fromEntries(asked.map((p) => [p.name, p.schema])),
        requiredQuery: new Set(asked.filter((p) => p.required).map((p) => p.name)),
      };
    }),
  );
}

export interface Fuzzing {
  readonly app: FastifyInstance;
  readonly requests: number;
  readonly seed: number;
  readonly words: Vocabulary;
  /** Cookies of somebody signed in, by role; asked again after a 401. */
  readonly cookie: (role: 'officer' | 'tester' | 'reader') => Promise<string>;
  /** Something that changes with every write: what is refused must leave it as it was. */
  readonly fingerprint: () => Promise<string>;
  /** Operations that are left out, as `METHOD /path`: they would end the sessions that the rest needs. */
  readonly leftOut?: ReadonlySet<string>;
  /** What an answer may take, ms. */
  readonly patienceMs?: number;
}

export interface Fault {
  readonly what: string;
  readonly request: string;
}

export interface Fuzzed {
  readonly requests: number;
  readonly byStatus: Readonly<Record<string, number>>;
  readonly operations: number;
  /** Requests that their operation accepted: proof that handlers were reached. */
  readonly accepted: number;
  readonly slowestMs: number;
  readonly faults: readonly Fault[];
}

const PATIENCE_MS = 5000;

/** A browser sends no half characters in an address. */
const wellFormed = (text: string): string => text.replace(/[\uD800-\uDFFF]/g, '\uFFFD');

/**
 * Asks a server for its description and sends what it describes: valid requests with ids that are there, and the same with something spoiled.
 * @returns what it answered; a fault is an answer over 499, one that took over five seconds, or a refusal that changed something all the same
 */
export async function fuzz({ app, requests, seed, words, cookie, fingerprint, leftOut = new Set(), patienceMs = PATIENCE_MS }: Fuzzing): Promise<Fuzzed> {
  const chance = new Chance(seed);
  const operations = operationsOf((await app.inject({ method: 'GET', url: '/api/openapi.json' })).json()).filter((o) => !leftOut.has(`${o.method} ${o.path}`));
  const byStatus: Record<string, number> = {};
  const faults: Fault[] = [];
  let accepted = 0;
  let slowestMs = 0;
  let before = await fingerprint();
  for (let i = 0; i < requests; i++) {
    const operation = chance.of(operations);
    const role = chance.once(6) ? chance.of(['tester', 'reader'] as const) : 'officer';
    const breaks = chance.below(4);
    const path = operation.path.replace(/\{(\w+)\}/g, (_, name: string) => {
      const known = words[`${operation.path}:${name}`] ?? words[name] ?? words['ids'] ?? [];
      return encodeURIComponent(wellFormed(String(breaks === 1 && chance.once(2) ? chance.of(nasty) : chance.of(known))));
    });
    const asked = Object.entries(operation.query).filter(([name]) => operation.requiredQuery.has(name) || chance.once(3));
    const query = asked.map(([name, shape]) => [name, String(breaks === 2 && chance.once(2) ? chance.of(nasty) : valueOf(shape, name, words, chance))]);
    const url = query.length === 0 ? path : `${path}?${new URLSearchParams(query.map(([k = '', v = '']): [string, string] => [k, wellFormed(v)])).toString()}`;
    const good = operation.body === null ? undefined : valueOf(operation.body, 'body', words, chance);
    const body = good === undefined ? undefined : breaks === 3 ? spoiled(good, chance) : good;
    const options: InjectOptions = {
      method: operation.method,
      url,
      headers: { cookie: await cookie(role), ...(body === undefined ? {} : { 'content-type': 'application/json' }) },
    };
    const request = `${operation.method} ${url} as ${role} ${body === undefined ? '' : JSON.stringify(body).slice(0, 600)}`;
    const from = performance.now();
    // A stream of events has no end of its own: its head is enough here.
    const streams = operation.path.endsWith('/events') && operation.method === 'GET';
    const reply = await Promise.race([
      app.inject({ ...options, ...(streams ? { method: 'HEAD' } : {}), ...(body === undefined ? {} : { payload: JSON.stringify(body) }) }),
      new Promise<null>((resolve) => setTimeout(() => resolve(null), patienceMs * 2).unref()),
    ]);
    const tookMs = performance.now() - from;
    slowestMs = Math.max(slowestMs, tookMs);
    const status = reply?.statusCode ?? 0;
    byStatus[String(status)] = (byStatus[String(status)] ?? 0) + 1;
    if (status < 300 && status > 0) accepted++;
    // What tells how far a long work is takes as long as the work.
    const tells = String(reply?.headers['content-type']).startsWith('text/event-stream');
    if (reply === null || (tookMs > patienceMs && !tells)) faults.push({ what: `took ${tookMs.toFixed(0)} ms`, request });
    // 502 and 503 say that something behind the server is away, which is so where no instruments run.
    else if (status >= 500 && status !== 502) faults.push({ what: `answered ${String(status)} ${reply.payload.slice(0, 200)}`, request });
    else if (status >= 400 && !reply.payload.includes('"code"') && !streams) faults.push({ what: `answered ${String(status)} without a code`, request });
    const after = await fingerprint();
    if (status >= 400 && after !== before) faults.push({ what: `was refused (${String(status)}) and changed something: ${before} -> ${after}`, request });
    before = after;
  }
  return { requests, byStatus, operations: operations.length, accepted, slowestMs, faults };
}
