import { connect, type Socket } from 'node:net';
import { createInterface } from 'node:readline';
import { isDeviceName, LONGEST_LINE, parseData, parseHello, type DataLine, type Hello } from '@grellin/contract';
import { Coded, type InstrumentEntry } from '../../base';

/** Where one input of one device is: `entry/device/input`. */
export interface InputAddress {
  readonly entry: string;
  readonly device: string;
  readonly input: string;
}

/** The parts of an address `entry/device/input`; null for what is none. */
export function parseAddress(text: string): InputAddress | null {
  const [entry, device, input, ...more] = text.split('/');
  return entry && device && input && more.length === 0 && isDeviceName(device) ? { entry, device, input } : null;
}

/** The part of an address that shares a clock and a rig. */
export const deviceKey = (a: InputAddress): string => `${a.entry}/${a.device}`;

const CONNECT_MS = 3000;
/** Stepping two hours of a simulated clock takes a while. */
const ANSWER_MS = 60_000;

/** The next line; null when the connection has ended, was refused or reset. */
async function lineOf(lines: AsyncIterator<string>): Promise<string | null> {
  try {
    const got = await lines.next();
    return got.done ? null : got.value;
  } catch {
    return null;
  }
}

/** One connection to a device, past its greeting. */
class Line {
  private constructor(
    private readonly socket: Socket,
    readonly hello: Hello,
    private readonly lines: AsyncIterator<string>,
  ) {}

  static async open(entry: InstrumentEntry, device: string): Promise<Line> {
    const socket = connect({ host: entry.host, port: entry.port });
    socket.setTimeout(CONNECT_MS, () => socket.destroy(new Error('no answer')));
    socket.on('error', () => undefined); // read by whoever waits for a line: the iterator ends
    const reader = createInterface({ input: socket, crlfDelay: Infinity });
    // A destroyed or refused connection has no 'end': without this whoever waits for a line would wait for ever.
    socket.on('close', () => reader.close());
    const lines = reader[Symbol.asyncIterator]();
    socket.write(`OPEN ${device}\n`);
    const first = await lineOf(lines);
    const hello = first === null ? null : parseHello(first);
    if (!hello) {
      socket.destroy();
      throw new Coded('instrument.unreachable', `${device} does not answer.`, { device });
    }
    socket.setTimeout(0);
    return new Line(socket, hello, lines);
  }

  send(line: string): void {
    this.socket.write(`${line}\n`);
  }

  /** The next line, or null when the connection has ended. */
  async next(): Promise<string | null> {
    const line = await lineOf(this.lines);
    return line !== null && line.length > LONGEST_LINE ? null : line;
  }

  close(): void {
    this.socket.destroy();
  }
}

/** The instruments that can be reached: those named in the allow-list. */
export class Devices {
  constructor(private readonly entries: Readonly<Record<string, InstrumentEntry>>) {}

  private entry(address: InputAddress): InstrumentEntry {
    const found = Object.hasOwn(this.entries, address.entry) ? this.entries[address.entry] : undefined;
    if (!found) throw new Coded('instrument.unreachable', `${address.device} is not among the instruments this server may reach.`, { device: address.device });
    return found;
  }

  /** Who the device is and what its clock shows. */
  async greet(address: InputAddress): Promise<Hello> {
    const line = await Line.open(this.entry(address), address.device);
    line.close();
    return line.hello;
  }

  /** Sends one command and waits for its answer. */
  async command(address: InputAddress, command: string): Promise<string> {
    const line = await Line.open(this.entry(address), address.device);
    const limit = setTimeout(() => line.close(), ANSWER_MS);
    try {
      line.send(command);
      const answer = await line.next();
      if (answer === null) throw new Coded('instrument.unreachable', `${address.device} did not answer.`, { device: address.device });
      if (!answer.startsWith('OK')) throw new Coded('instrument.refused', answer.replace(/^ERR /, ''), { device: address.device });
      return answer.slice(3);
    } finally {
      clearTimeout(limit);
      line.close();
    }
  }

  /**
   * Reads a device from a moment of its clock, what it has kept included, until the connection ends or `stop` fires.
   * @param onData told every whole line; a damaged one is left out
   */
  async read(address: InputAddress, fromMs: number, onHello: (hello: Hello) => number, onData: (data: DataLine) => void, stop: AbortSignal): Promise<void> {
    const line = await Line.open(this.entry(address), address.device);
    const end = (): void => line.close();
    stop.addEventListener('abort', end);
    try {
      line.send(`FROM ${Math.max(fromMs, onHello(line.hello))}`);
      for (let text = await line.next(); text !== null && !stop.aborted; text = await line.next()) {
        const data = parseData(text);
        if (data) onData(data);
      }
    } finally {
      stop.removeEventListener('abort', end);
      line.close();
    }
  }
}
