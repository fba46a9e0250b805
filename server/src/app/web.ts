import { randomBytes } from 'node:crypto';
import { readdir, readFile } from 'node:fs/promises';
import { join, relative, sep } from 'node:path';
import fastifyStatic from '@fastify/static';
import type { FastifyInstance } from 'fastify';
import { Coded } from '../base';

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

/** More often than this nobody encodes a path in good faith. */
const MOST_DECODINGS = 4;

/** Whether somebody could mean the API by a path, however it is spelled: what is not there is said as the API says it, never with the page. */
function meansApi(path: string): boolean {
  let plain = path;
  try {
    for (let i = 0; i < MOST_DECODINGS && decodeURIComponent(plain) !== plain; i++) plain = decodeURIComponent(plain);
  } catch {
    // A path that cannot be decoded any further is taken as it is.
  }
  return /^\/+api([/;?]|$)/i.test(new URL(`http://here/${plain.replace(/^\/+/, '')}`).pathname);
}

async function filesIn(folder: string): Promise<ReadonlySet<string>> {
  const found = await readdir(folder, { recursive: true, withFileTypes: true });
  return new Set(found.filter((f) => f.isFile()).map((f) => relative(folder, join(f.parentPath, f.name)).split(sep).join('/')));
}

/** Serves the built web application; every path that is neither a file nor the API is the application's own. */
export async function serveWeb(app: FastifyInstance, folder: string): Promise<void> {
  const page = await readFile(join(folder, 'index.html'), 'utf8');
  const files = await filesIn(folder);
  // Files are served by the one route below, which names who may have them.
  await app.register(fastifyStatic, { root: folder, serve: false });
  app.get<{ Params: { '*': string } }>('/*', { config: { role: 'anyone' }, schema: { hide: true } }, (request, reply) => {
    const path = request.params['*'];
    if (meansApi(path)) throw new Coded('route.unknown', 'There is nothing here.');
    // Names carry a hash of the content.
    if (path !== 'index.html' && files.has(path)) return reply.sendFile(path, { maxAge: '1y', immutable: true });
    const nonce = randomBytes(16).toString('base64');
    return reply.header('content-security-policy', policy(nonce)).type('text/html').send(page.replaceAll('__CSP_NONCE__', nonce));
  });
}
