import { connect, createServer, type AddressInfo, type Server, type Socket } from 'node:net';

/** A cable to a port on this machine that a test can cut and mend. */
export class Cable {
  private readonly ends = new Set<Socket>();
  private whole = true;

  private constructor(
    private readonly server: Server,
    readonly port: number,
  ) {}

  static async to(host: string, port: number): Promise<Cable> {
    const server = createServer();
    await new Promise<void>((done) => server.listen(0, '127.0.0.1', done));
    const cable = new Cable(server, (server.address() as AddressInfo).port);
    server.on('connection', (near) => {
      if (!cable.whole) return void near.destroy();
      const far = connect(port, host);
      for (const end of [near, far]) {
        cable.ends.add(end);
        end.on('error', () => undefined);
        end.on('close', () => {
          cable.ends.delete(end);
          near.destroy();
          far.destroy();
        });
      }
      near.pipe(far).pipe(near);
    });
    return cable;
  }

  cut(): void {
    this.whole = false;
    for (const end of this.ends) end.destroy();
  }

  mend(): void {
    this.whole = true;
  }

  close(): void {
    this.cut();
    this.server.close();
  }
}
