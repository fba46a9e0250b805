import { build } from './build';
import { configFrom } from './config';

const config = configFrom(process.env);
const app = await build(config);
await app.listen({ host: config.host, port: config.port });
const address = app.server.address();
// The start command waits for this line.
console.log(
  `listening http://${config.host.includes(':') ? `[${config.host}]` : config.host}:${typeof address === 'object' && address ? address.port : config.port}`,
);

let closing = false;
for (const signal of ['SIGINT', 'SIGTERM'] as const) {
  process.on(signal, () => {
    if (closing) return;
    closing = true;
    void app.close().then(() => process.exit(0));
  });
}
