import fastifySwagger from '@fastify/swagger';
import { jsonSchemaOf } from '@grellin/contract';
import type { FastifyInstance, FastifySchema } from 'fastify';

declare module 'fastify' {
  interface FastifySchema {
    summary?: string;
    hide?: boolean;
  }
}

/** Describes every route by the schemas that its requests are held against. */
export async function openApi(app: FastifyInstance): Promise<void> {
  await app.register(fastifySwagger, {
    openapi: { openapi: '3.1.0', info: { title: 'Grellin', version: '1', description: 'Scheduled leak checks: assets, runs, records.' } },
    transform: ({ schema, url }: { schema: FastifySchema; url: string }) => {
      const { body, params, querystring, summary, hide } = schema as FastifySchema | Record<string, never>;
      const shown = Object.fromEntries(
        Object.entries({ body, params, querystring })
          .filter(([, s]) => s !== undefined)
          .map(([k, s]) => [k, jsonSchemaOf(s)]),
      );
      return { schema: { ...shown, ...(summary === undefined ? {} : { summary }), ...(hide === undefined ? {} : { hide }) }, url };
    },
  });
}
