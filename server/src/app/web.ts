import { readdir, readFile } from 'node:fs/promises';
import { join, relative, sep } from 'node:path';
import fastifyStatic from '@fastify/static';
import type { FastifyInstance } from 'fastify';
import { Coded } from '../base';

/** Content security policy of the page: nothing from anywhere else, and nothing written into the page. It is the same for everybody. */
const POLICY = [
  "default-src 'self'",
  "script-src 'self'",
  "worker-src 'self'",
  "manifest-src 'self'",
  "style-src 'self'",
  "style-src-attr 'unsafe-inline'",
  "img-src 'self' data:",
  "connect-src 'self'",
  "font-src 'self'",
  "object-src 'none'",
  "base-uri 'self'",
  "frame-ancestors 'none'",
  "form-action 'self'",
].join('; ');

/** Files whose names carry a hash of their content: they never change. */
const HASHED = /-[A-Z0-9]{8}\.\w+$/;
/** What a browser asks for to see whether the pages that it keeps are still these. */
const WORKERS = ['worker.js', 'ngsw-worker.js'];
const LISTING = 'ngsw.json';
/** Takes itself and all that it keeps away: what browsers are given in the worker's place where it is switched off. */
const SAFETY = 'safety-worker.js';

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

/**
 * Serves the built web application; every path that is neither a file nor the API is the application's own.
 * @param worker false takes the service worker out of every browser that has it
 */
export async function serveWeb(app: FastifyInstance, folder: string, worker = true): Promise<void> {
  const page = await readFile(join(folder, 'index.html'), 'utf8');
  const files = await filesIn(folder);
  await app.register(fastifyStatic, { root: folder, serve: false, cacheControl: false });
  app.get<{ Params: { '*': string } }>('/*', { config: { role: 'anyone' }, schema: { hide: true } }, (request, reply) => {
    const path = request.params['*'];
    if (meansApi(path)) throw new Coded('route.unknown', 'There is nothing here.');
    if (!worker && path === LISTING) throw new Coded('route.unknown', 'No pages are kept.');
    const name = !worker && WORKERS.includes(path) ? SAFETY : path;
    if (path !== 'index.html' && files.has(name))
      return reply.header('cache-control', HASHED.test(name) ? 'public, max-age=31536000, immutable' : 'no-cache').sendFile(name);
    return reply.header('content-security-policy', POLICY).type('text/html').send(page);
  });
}
