import { createServer, type Server, type Socket } from 'node:net';
import { createInterface } from 'node:readline';
import { formatData, formatHello, formatScene, isDeviceName, LONGEST_LINE } from '@grellin/contract';
import { Device, deviceKinds } from './device';

const MOST_DEVICES = 160;
/** Highest pressure that a hand may aim at, Pa, and the deepest suction. */
const MOST_PA = 100_000_000;
const LEAST_PA = -100_000;
const MOST_SEED = 1_000_000;
const FASTEST = 60;
const LONGEST_STEP_S = 7200;

/** The simulated instruments, made when they are first asked for. */
export class Shelf {
  private readonly devices = new Map<string, Device>();

  open(name: string): Device | null {
    const known = this.devices.get(name);
    if (known) return known;
    const kind = deviceKinds.find((k) => name.startsWith(`${k.device}-`));
    if (!kind || !isDeviceName(name) || this.devices.size >= MOST_DEVICES) return null;
    const made = new Device(name, kind);
    this.devices.set(name, made);
    return made;
  }

  end(): void {
    for (const device of this.devices.values()) device.end();
  }
}

function numberIn(text: string | undefined, low: number, high: number): number | null {
  const value = text !== undefined && /^-?\d+(\.\d+)?$/.test(text) ? Number(text) : Number.NaN;
  return value >= low && value <= high ? value : null;
}

/** One client's conversation: `OPEN` first, then commands; see docs/logger-protocol.md. */
class Conversation {
  private device: Device | null = null;
  private stop: (() => void) | null = null;

  constructor(
    private readonly socket: Socket,
    private readonly shelf: Shelf,
  ) {
    socket.on('close', () => this.stop?.());
    socket.on('error', () => this.stop?.());
  }

  private say(line: string): void {
    if (!this.socket.destroyed) this.socket.write(`${line}\n`);
  }

  /** One command after the other: the answers come in the order of the questions. */
  hear(line: string): void {
    this.heard = this.heard.then(() => this.answer(line));
  }
  private heard: Promise<void> = Promise.resolve();

  private async answer(line: string): Promise<void> {
    const [word = '', ...rest] = line.split(' ').map((w) => {
      try {
        return decodeURIComponent(w);
      } catch {
        return '';
      }
    });
    const answer = word === 'OPEN' ? this.open(rest[0] ?? '') : this.device ? await this.obey(this.device, word, rest) : 'ERR open-first';
    if (answer !== null) this.say(answer);
  }

  /** Carries a command out. @returns the answer; null where the answer is a stream of lines */
  private async obey(device: Device, word: string, rest: readonly string[]): Promise<string | null> {
    switch (word) {
      case 'FROM': {
        const at = numberIn(rest[0], 0, Number.MAX_SAFE_INTEGER);
        if (at === null) return 'ERR number';
        this.stop?.();
        this.stop = device.from(at, (data) => this.say(formatData(data)));
        return null;
      }
      case 'RESET': {
        const seed = rest[1] === undefined ? undefined : numberIn(rest[1], 0, MOST_SEED);
        if (seed === null) return 'ERR number';
        return device.reset(rest[0] ?? '', seed) ? 'OK' : 'ERR no such fault';
      }
      case 'HAND': {
        const to = numberIn(rest[1] ?? '0', LEAST_PA, MOST_PA);
        return to !== null && device.hand({ act: rest[0] ?? '', to }) ? 'OK' : 'ERR no such move';
      }
      case 'FREE': {
        const speed = numberIn(rest[0], 0, FASTEST);
        if (speed === null) return 'ERR number';
        device.free(speed);
        return 'OK';
      }
      case 'STEP': {
        const seconds = numberIn(rest[0], 0, LONGEST_STEP_S);
        return seconds === null ? 'ERR number' : `OK ${await device.step(seconds)}`;
      }
      case 'UNTIL': {
        const seconds = numberIn(rest[1], 0, LONGEST_STEP_S);
        return seconds === null ? 'ERR number' : (await device.until(rest[0] ?? '', seconds)) ? 'OK' : 'ERR it did not happen';
      }
      case 'LOOK':
        return `OK ${formatScene(device.scene())}`;
      default:
        return 'ERR word';
    }
  }

  private open(name: string): string {
    this.device = this.shelf.open(name);
    return this.device ? formatHello(this.device.hello()) : 'ERR no such device';
  }
}

export function loggerServer(shelf: Shelf): Server {
  return createServer((socket) => {
    const talk = new Conversation(socket, shelf);
    const reader = createInterface({ input: socket });
    reader.on('error', () => undefined); // a client that was killed resets its connection; the others go on
    reader.on('line', (line) => {
      if (line.length > LONGEST_LINE) socket.destroy();
      else talk.hear(line);
    });
  });
}
