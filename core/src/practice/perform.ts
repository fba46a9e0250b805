import type { Channel, CheckItem, Plan } from '../procedure';
import type { Quantity } from '../quantity';
import { handAt, LINE_MS, rigById, type Logger, type LoggedLine, type Sensors } from '../rig';
import { emptyRun, fold, may, next, type EventBody, type Next, type Opened, type RunEvent, type RunState } from '../run';

/** How a run is carried out by a practised hand on a rig. */
export interface Practice {
  readonly plan: Plan;
  readonly opened: Omit<Opened, 'kind'>;
  readonly rig: string;
  readonly fault: string;
  readonly sensors: Sensors;
  /** Which of the logger's inputs feeds which channel. */
  readonly inputs: Readonly<Record<Channel, Channel>>;
  readonly seed: number;
  /** Answers other than yes. */
  readonly answers?: Readonly<Record<string, { readonly answer: 'no' | 'notApplicable'; readonly reason: string }>>;
  /** Name of an event: its place in the run. */
  readonly name: (index: number) => string;
  /** `typed` writes each reading as a person would, one a step; `samples` as the logger's chunks. */
  readonly readings: 'samples' | 'typed';
}

/** A person takes this long to read a line and press a key. */
const HAND_MS = 1000;
/** A practised hand trims until the needle stands, because gas that was let down warms again and rises. */
const TRIM_MS = 20_000;
/** Nobody waits longer than this for a rig to reach a window. */
const PATIENCE_MS = 20 * 60_000;

/** Carries one run forward on a rig, event by event. */
class Hand {
  state: RunState = emptyRun;
  readonly events: RunEvent[] = [];
  private logger: Logger;
  private window: { low: Quantity; high: Quantity } | undefined;
  private readonly counts = new Map<string, number>();

  constructor(private readonly p: Practice) {
    const rig = rigById(p.rig);
    if (!rig) throw new RangeError(`there is no rig ${p.rig}`);
    this.logger = rig.logger(p.fault, p.sensors, p.seed);
  }

  say(source: string, at: number, body: EventBody): boolean {
    const n = (this.counts.get(source) ?? 0) + 1;
    const event: RunEvent = { id: this.p.name(this.events.length), source, n, at, ...body };
    if (may(this.p.plan, this.state, event)) return false;
    this.counts.set(source, n);
    this.state = fold(this.state, event);
    this.events.push(event);
    return true;
  }

  person(body: EventBody): boolean {
    return this.say('hand', this.logger.at, body);
  }

  private record(lines: readonly LoggedLine[]): void {
    const first = lines[0];
    if (!first) return;
    for (const [channel, input] of Object.entries(this.p.inputs)) {
      const unit = this.p.sensors[input]?.unit ?? '';
      const values = lines.map((l) => l.values[input] ?? Number.NaN);
      if (this.p.readings === 'samples') this.say(`logger:${input}`, first.at, { kind: 'samples', channel, unit, everyMs: LINE_MS, values });
      else this.say('hand', this.logger.at, { kind: 'reading', channel, quantity: { value: values.at(-1) ?? Number.NaN, unit } });
    }
  }

  wait(ms: number): void {
    const [logger, lines] = this.logger.advance(ms);
    this.logger = logger;
    this.record(lines);
  }

  /** Does what a step asks of the hand. */
  hand(step: string): void {
    for (const action of handAt(this.p.plan.procedure.id, step, this.window)) this.logger = this.logger.act(action);
  }

  atWindow(low: Quantity, high: Quantity): void {
    this.window = { low, high };
  }

  /** Lets the rig run until the statement is allowed. */
  until(body: EventBody): void {
    for (let waited = 0; !this.person(body); waited += LINE_MS) {
      if (waited > PATIENCE_MS) throw new Error(`the rig never got as far as ${JSON.stringify(body)}`);
      this.wait(LINE_MS);
    }
  }
}

/** What a practised hand answers when nothing else is asked of it: yes, and of an item that need not apply, that it does not. */
function usual(item: CheckItem): { readonly answer: 'yes' } | { readonly answer: 'notApplicable'; readonly reason: string } {
  return item.optional ? { answer: 'notApplicable', reason: 'not fitted' } : { answer: 'yes' };
}

function carryOut(hand: Hand, p: Practice, n: Exclude<Next, { kind: 'closed' }>): void {
  switch (n.kind) {
    case 'begin':
      hand.wait(HAND_MS);
      hand.hand(n.stage.id);
      hand.person({ kind: 'began', stage: n.stage.id, attempt: n.attempt, ...(n.attempt > 1 ? { reason: 'done again' } : {}) });
      return;
    case 'answer': {
      hand.wait(HAND_MS);
      const other = p.answers?.[n.item.id] ?? usual(n.item);
      hand.person({ kind: 'answered', item: n.item.id, ...other });
      return;
    }
    case 'act':
      hand.hand(n.step.id);
      hand.wait(HAND_MS);
      hand.until({ kind: 'marked', mark: n.step.id });
      return;
    case 'reach':
      hand.atWindow(n.low, n.high);
      hand.hand(n.step.id);
      hand.until({ kind: 'marked', mark: n.step.id });
      return;
    case 'wait':
      hand.hand(n.step.id);
      hand.wait(Math.max(0, n.until - hand.state.at));
      hand.until({ kind: 'marked', mark: n.step.id });
      return;
    case 'start':
      if (n.stage.steps.at(-1)?.kind === 'reach') hand.wait(TRIM_MS);
      hand.hand('start');
      hand.until({ kind: 'marked', mark: 'start' });
      return;
    case 'hold':
      hand.wait(Math.max(0, n.until - hand.state.at));
      hand.until({ kind: 'ended', stage: n.stage.id, attempt: n.attempt });
      return;
    case 'end':
      hand.person({ kind: 'ended', stage: n.stage.id, attempt: n.attempt });
      return;
    case 'seal':
      hand.person({ kind: 'sealed' });
  }
}

/**
 * Carries a whole run through on a rig, in the order that `next` gives, and seals it. A stage that the rules do not let be tried again
 * leaves the run abandoned, as a person would have to.
 * @returns the events, each of which `may` allowed
 * @throws Error when the rig can never reach what a step asks for
 */
export function perform(p: Practice): { readonly events: readonly RunEvent[]; readonly state: RunState } {
  const hand = new Hand(p);
  if (!hand.person({ kind: 'opened', ...p.opened })) throw new Error('the run may not be opened');
  for (let turns = 0; turns < 500; turns++) {
    const n = next(p.plan, hand.state);
    if (n.kind === 'closed') return { events: hand.events, state: hand.state };
    const before = hand.events.length;
    carryOut(hand, p, n);
    if (hand.events.length === before && !hand.person({ kind: 'abandoned', reason: 'nothing more is allowed' })) break;
  }
  throw new Error('the run never came to its end');
}
