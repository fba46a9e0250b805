import { loggerServer, Shelf } from './server';

const usage = `Simulated pressure loggers: a program of its own that speaks a line protocol over TCP on loopback.

  node dist/logger.mjs [--port N]

Devices are made when they are first opened: PL-… is a manometer on a gas-tight suit, BP-… a pressure pair on a vehicle's air circuits.
The protocol is described in docs/logger-protocol.md.
`;

const args = process.argv.slice(2);
const at = args.indexOf('--port');
const port = at < 0 ? 0 : Number(args[at + 1]);
if (args.includes('--help')) {
  process.stdout.write(usage);
} else if (!Number.isInteger(port) || port < 0 || port > 65535) {
  process.stderr.write(usage);
  process.exitCode = 2;
} else {
  const shelf = new Shelf();
  const server = loggerServer(shelf);
  server.listen(port, '127.0.0.1', () => {
    const address = server.address();
    console.log(`listening 127.0.0.1:${typeof address === 'object' && address ? address.port : port}`);
  });
  for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP'] as const) process.on(signal, () => process.exit(0));
}
