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
  /** Instrument addresses come from this allow-list and nowhere else. */
  readonly instruments: Readonly<Record<string, InstrumentEntry>>;
  /** A proxy in front that ends TLS: its forwarded headers are believed and cookies are marked secure. */
  readonly behindProxy: boolean;
  readonly log: boolean;
}

const loopback = new Set(['127.0.0.1', 'localhost', '::1', '[::1]']);

export function isLoopback(host: string): boolean {
  return loopback.has(host);
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
 * Reads the configuration from environment variables: DATABASE_URL, HOST, PORT, WEB_FOLDER, GRELLIN_INSTRUMENTS, BEHIND_PROXY, LOG.
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
    instruments: parseInstruments(env['GRELLIN_INSTRUMENTS'] ?? ''),
    behindProxy: env['BEHIND_PROXY'] === '1',
    log: env['LOG'] !== '0',
  };
}
