import type { RunView } from '@grellin/contract';
import type { EventBody, RunEvent } from '@grellin/core';
import type { ClockReading, Clocks } from '../../src';
import { Pen, type Person } from './station';

const inH2O = "[in_i'H2O]";

/** A machine's clocks that a test holds: a minute passes when `ms` is turned on, and the hour alone is set by `set`. */
export class HeldClock implements Clocks {
  ms: number;
  private setBy = 0;
  constructor(
    from: string,
    private readonly host = 'held',
    private readonly start = 'first',
  ) {
    this.ms = Date.parse(from);
  }
  readonly now = (): Date => new Date(this.ms + this.setBy);
  readonly read = (): ClockReading => ({ host: this.host, start: this.start, steadyMs: this.ms, wallMs: this.ms + this.setBy });
  /** Somebody sets the hour ahead (above 0) or back (below). */
  set(byMs: number): void {
    this.setBy += byMs;
  }
}

/** Says things in a run as the minutes pass: `at` seconds on its clock. */
export class HeldSpeaker {
  private readonly pen = new Pen();
  private readonly zero: number;
  /** When the run was opened, ms. */
  get began(): number {
    return this.zero;
  }
  constructor(
    readonly run: RunView,
    private readonly person: Person,
    private readonly clock: HeldClock,
    private readonly lease = run.lease,
    /** Whether the run proves its kit, and what is left in it. */
    private readonly kit: { readonly proves: boolean; readonly left: number } = { proves: true, left: 5.5 },
  ) {
    this.zero = clock.ms;
  }
  event(at: number, body: EventBody): RunEvent {
    this.clock.ms = Math.max(this.clock.ms, this.zero + at * 1000);
    return this.pen.write(at * 1000, body);
  }
  send(events: readonly RunEvent[], lease = this.lease) {
    return this.person.ask('POST', `/api/runs/${this.run.id}/events`, { lease, events });
  }
  async say(at: number, body: EventBody) {
    const { status, body: reply } = await this.send([this.event(at, body)]);
    if (status !== 201) throw new Error(JSON.stringify(reply));
  }
  read(at: number, value: number): Promise<void> {
    return this.say(at, { kind: 'reading', channel: 'suit', quantity: { value, unit: inH2O } });
  }
  async check(at: number, stage: string, items: readonly string[]): Promise<void> {
    await this.say(at, { kind: 'began', stage, attempt: 1 });
    for (const item of items) await this.say(at, { kind: 'answered', item, answer: 'yes' });
    await this.say(at, { kind: 'ended', stage, attempt: 1 });
  }
  async mark(at: number, mark: string): Promise<void> {
    await this.say(at, { kind: 'marked', mark });
  }
  /** To where the suit is about to be filled, its kit proved. */
  async toFill(): Promise<void> {
    await this.check(1, 'gather', ['serial', 'flat', 'adapters']);
    await this.check(2, 'look', ['sound', 'diaphragms', 'zip']);
    if (this.kit.proves) await this.prove(this.kit.left);
    await this.say(90, { kind: 'began', stage: 'inflate', attempt: 1 });
  }
  /** The kit alone, with what is left in it after a minute. */
  async prove(left: number): Promise<void> {
    await this.say(3, { kind: 'began', stage: 'rig-proof', attempt: 1 });
    await this.mark(4, 'blank');
    await this.read(5, 5.5);
    await this.mark(6, 'rig-pressure');
    await this.mark(26, 'rig-settle');
    await this.read(27, 5.5);
    await this.mark(28, 'start');
    await this.read(88, left);
    await this.say(89, { kind: 'ended', stage: 'rig-proof', attempt: 1 });
  }
  async toHold(): Promise<void> {
    await this.toFill();
    await this.mark(91, 'connect');
    await this.read(120, 5.5);
    await this.mark(121, 'fill');
    await this.mark(181, 'settle');
    await this.mark(182, 'full-look');
    await this.read(190, 4.02);
    await this.mark(191, 'trim');
    await this.mark(192, 'start');
  }
  /** It failed: where is left to the workshop. */
  async leave(): Promise<void> {
    await this.say(433, { kind: 'began', stage: 'find', attempt: 1 });
    await this.say(433, { kind: 'ended', stage: 'find', attempt: 1, reason: 'left to the workshop' });
  }
  async through(end: number): Promise<void> {
    await this.toHold();
    await this.read(432, end);
    await this.say(433, { kind: 'ended', stage: 'inflate', attempt: 1 });
    if (end < 3.2) await this.leave();
    await this.check(434, 'aftercare', ['let-down-safe', 'plugs-out', 'zip-open', 'diaphragms-back', 'covers', 'stored']);
    await this.say(440, { kind: 'sealed' });
  }
}
