import { isIP } from 'node:net';

/** Where a simulated or real instrument server answers. */
export interface InstrumentEntry {
  readonly host: string;
  readonly port: number;
}

export interface Config {
  readonly databaseUrl: string;
  readonly host: string;
  readonly port: number;
  /** The folder of the built web application; null when only the API is wanted. */
  readonly webFolder: string | null;
  /** False takes the service worker, and the pages that it keeps, out of every browser that has it. */
  readonly serviceWorker: boolean;
  /** Instrument addresses come from this allow-list and nowhere else. */
  readonly instruments: Readonly<Record<string, InstrumentEntry>>;
  /** Addresses of the proxies in front that end TLS: their forwarded headers alone are believed, and cookies are marked secure. Null without one. */
  readonly proxies: readonly string[] | null;
  /** The word with which the first officer of an empty database is made in the browser; null where nobody may be. */
  readonly firstToken: string | null;
  /** The file of anchors, outside of the database; null where none is kept. */
  readonly anchorFile: string | null;
  /** What the codes on certificates begin with, where this server is reached from outside; null for the address that it was asked under. */
  readonly publicUrl: string | null;
  readonly log: boolean;
}

/** A server on loopback and a database, with nothing else: no web application, no instruments, no proxy, and whatever is given. */
export function bareConfig(databaseUrl: string, more: Partial<Config> = {}): Config {
  return {
    databaseUrl,
    host: '127.0.0.1',
    port: 0,
    webFolder: null,
    serviceWorker: true,
    instruments: {},
    proxies: null,
    firstToken: null,
    anchorFile: null,
    publicUrl: null,
    log: false,
    ...more,
  };
}

const loopback = new Set(['127.0.0.1', 'localhost', '::1', '[::1]']);

/** Whether a host is this machine alone. */
export function isLoopback(host: string): boolean {
  return loopback.has(host);
}

/** Reads the addresses of declared proxies: `1` is one on this machine, else addresses and networks (`10.0.0.5,10.1.0.0/16`). */
export function parseProxies(text: string | undefined): readonly string[] | null {
  if (text === undefined || text === '' || text === '0') return null;
  if (text === '1') return ['127.0.0.1/8', '::1/128'];
  return text.split(',').map((one) => {
    const [address = '', bits, ...more] = one.trim().split('/');
    const most = isIP(address) === 6 ? 128 : 32;
    if (isIP(address) === 0 || more.length > 0 || (bits !== undefined && !(/^\d{1,3}$/.test(bits) && Number(bits) <= most)))
      throw new RangeError(`BEHIND_PROXY: "${one}" is no address; write 1 for a proxy on this machine, or addresses and networks with commas`);
    return one.trim();
  });
}

function publicUrlFrom(text: string | undefined): string | null {
  if (text === undefined || text === '') return null;
  if (!URL.canParse(text) || !/^https?:$/.test(new URL(text).protocol)) throw new RangeError(`PUBLIC_URL: ${text} is no address`);
  return text;
}

/** Reads `name=host:port,name=host:port`. */
export function parseInstruments(text: string): Readonly<Record<string, InstrumentEntry>> {
  const entries = text.split(',').filter((s) => s.trim() !== '');
  return Object.fromEntries(
    entries.map((entry) => {
      const found = /^\s*([a-z][a-z0-9-]*)=([^:,=\s]+):(\d{1,5})\s*$/.exec(entry);
      if (!found) throw new RangeError(`GRELLIN_INSTRUMENTS: cannot read "${entry}"; write name=host:port`);
      return [found[1] ?? '', { host: found[2] ?? '', port: Number(found[3]) }];
    }),
  );
}

/**
 * Reads the configuration from environment variables: DATABASE_URL, HOST, PORT, WEB_FOLDER, GRELLIN_INSTRUMENTS, BEHIND_PROXY, FIRST_TOKEN, ANCHOR_FILE, PUBLIC_URL, LOG.
 * @throws RangeError naming the variable that cannot be used
 */
export function configFrom(env: Readonly<Record<string, string | undefined>>): Config {
  const databaseUrl = env['DATABASE_URL'];
  if (!databaseUrl) throw new RangeError('DATABASE_URL is not set');
  const port = Number(env['PORT'] ?? '4600');
  if (!Number.isInteger(port) || port < 0 || port > 65535) throw new RangeError(`PORT: ${env['PORT'] ?? ''} is not a port`);
  return {
    databaseUrl,
    host: env['HOST'] ?? '127.0.0.1',
    port,
    webFolder: env['WEB_FOLDER'] ?? null,
    serviceWorker: env['SERVICE_WORKER'] !== '0',
    instruments: parseInstruments(env['GRELLIN_INSTRUMENTS'] ?? ''),
    proxies: parseProxies(env['BEHIND_PROXY']),
    firstToken: env['FIRST_TOKEN'] ?? null,
    anchorFile: env['ANCHOR_FILE'] ?? null,
    publicUrl: publicUrlFrom(env['PUBLIC_URL']),
    log: env['LOG'] !== '0',
  };
}
