import { configFrom } from './base';
import { build } from './app';

/** What a person can do something about is said in one line; everything else with its trace. */
function giveUp(error: unknown): never {
  const { code } = error as { readonly code?: string };
  const words = code === 'EADDRINUSE' ? 'The port is in use by another program: set PORT to another one.' : null;
  console.error(words ?? (error instanceof RangeError ? error.message : error));
  process.exit(1);
}

const config = await Promise.resolve()
  .then(() => configFrom(process.env))
  .catch(giveUp);
const app = await build(config).catch(giveUp);
await app.listen({ host: config.host, port: config.port }).catch(giveUp);
const address = app.server.address();
// The start command waits for this line.
console.log(
  `listening http://${config.host.includes(':') ? `[${config.host}]` : config.host}:${typeof address === 'object' && address ? address.port : config.port}`,
);

let closing = false;
for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP'] as const) {
  process.on(signal, () => {
    if (closing) return;
    closing = true;
    void app.close().then(() => process.exit(0));
  });
}
