import { randomBytes } from 'node:crypto';
import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import fastifyStatic from '@fastify/static';
import type { FastifyInstance } from 'fastify';

/** Content security policy of the page: nothing from anywhere else, styles only with this page's nonce. */
const policy = (nonce: string): string =>
  [
    "default-src 'self'",
    "script-src 'self'",
    `style-src 'self' 'nonce-${nonce}'`,
    "style-src-attr 'unsafe-inline'",
    "img-src 'self' data:",
    "connect-src 'self'",
    "font-src 'self'",
    "object-src 'none'",
    "base-uri 'self'",
    "frame-ancestors 'none'",
    "form-action 'self'",
  ].join('; ');

/** Serves the built web application; every path that is neither a file nor the API is the application's own. */
export async function serveWeb(app: FastifyInstance, folder: string): Promise<void> {
  const page = await readFile(join(folder, 'index.html'), 'utf8');
  await app.register(fastifyStatic, {
    root: folder,
    index: false,
    wildcard: false,
    // Names carry a hash of the content.
    maxAge: '1y',
    immutable: true,
  });
  app.get('/*', { config: { role: 'anyone' }, schema: { hide: true } }, (_request, reply) => {
    const nonce = randomBytes(16).toString('base64');
    return reply
      .header('content-security-policy', policy(nonce))
      .header('cache-control', 'no-store')
      .type('text/html')
      .send(page.replaceAll('__CSP_NONCE__', nonce));
  });
}
