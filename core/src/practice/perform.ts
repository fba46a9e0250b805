import { originOf, type Channel, type CheckItem, type Plan } from '../procedure';
import { NEVER_COMES } from '../method';
import { decimalIn, type Quantity } from '../quantity';
import { LINE_MS, rigById, type Logger, type LoggedLine, type Sensors, type Signs } from '../rig';
import { movesAt } from './hand';
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
  /** Channels that a person reads and types where they are asked for, with the input that stands for what is seen. */
  readonly readByHand?: Readonly<Record<Channel, Channel>>;
  /** A stage whose hold is broken off half-way, with this reason. */
  readonly breakOff?: { readonly stage: string; readonly reason: string };
  readonly seed: number;
  /** How far the fault's leak has grown, 0 to 1; as it is seeded where nothing is said. */
  readonly grown?: number;
  /** Answers other than yes. */
  readonly answers?: Readonly<Record<string, { readonly answer: 'no' | 'notApplicable'; readonly reason: string }>>;
  /** Name of an event: its place in the run. */
  readonly name: (index: number) => string;
  /** `typed` writes each reading as a person would, one a step; `asked` only where it gets no further without; `samples` as the logger's chunks. */
  readonly readings: 'samples' | 'typed' | 'asked';
  /** By how many steps of its resolution a gauge is typed other than it shows: a needle between two marks is read as its reader likes. */
  readonly lean?: (input: Channel, state: RunState) => -1 | 0 | 1;
}

/** A person takes this long to read a line and press a key. */
const HAND_MS = 1000;
/** A practised hand trims until the needle stands, because gas that was let down warms again and rises. */
const TRIM_MS = 20_000;
/** Nobody waits longer than this for a rig to reach a window, or for something to happen. */
const PATIENCE_MS = 20 * 60_000;
const NEEDLE_MS = 60_000;
const EVENT_PATIENCE_MS = 15 * 60_000;

/** What one input of a line shows; NaN is no reading, and `may` refuses it. */
function shown(line: LoggedLine | undefined, input: Channel): number {
  return line?.values[input] ?? Number.NaN;
}

/** Carries one run forward on a rig, event by event. */
export class Hand {
  state: RunState = emptyRun;
  readonly events: RunEvent[] = [];
  private logger: Logger;
  private window: { low: Quantity; high: Quantity } | undefined;
  private readonly counts = new Map<string, number>();
  private readonly everyMs: number;
  private lastLine: LoggedLine | undefined;

  constructor(private readonly p: Practice) {
    const rig = rigById(p.rig);
    if (!rig) throw new RangeError(`there is no rig ${p.rig}`);
    this.logger = rig.logger(p.fault, p.sensors, p.seed, p.grown);
    this.everyMs = rig.everyMs;
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
    if (this.say('hand', this.logger.at, body)) return true;
    if (this.p.readings !== 'asked' || body.kind === 'reading') return false;
    for (const [channel, input] of Object.entries(this.p.inputs)) this.person({ kind: 'reading', channel, quantity: this.typed(input) });
    return this.say('hand', this.logger.at, body);
  }

  private record(lines: readonly LoggedLine[]): void {
    const first = lines[0];
    if (!first) return;
    this.lastLine = lines.at(-1);
    for (const [channel, input] of Object.entries(this.p.inputs)) {
      if (this.p.readings === 'asked') continue;
      if (this.p.readings === 'typed') this.person({ kind: 'reading', channel, quantity: this.typed(input) });
      else
        this.say(`logger:${input}`, first.at, {
          kind: 'samples',
          channel,
          unit: this.seen(input).unit,
          everyMs: this.everyMs,
          values: lines.map((l) => shown(l, input)),
        });
    }
  }

  wait(ms: number): void {
    const [logger, lines] = this.logger.advance(ms);
    this.logger = logger;
    this.record(lines);
  }

  get signs(): Signs {
    return this.logger.signs;
  }

  /** What an input shows now, as a person would type it. */
  seen(input: Channel): Quantity {
    if (!this.lastLine) this.wait(LINE_MS);
    return { value: shown(this.lastLine, input), unit: this.p.sensors[input]?.unit ?? '1' };
  }

  /** What is typed of an input: what it shows, as its reader leans. */
  typed(input: Channel): Quantity {
    const { value, unit } = this.seen(input);
    const steps = this.p.lean?.(input, this.state) ?? 0;
    return { value: steps === 0 ? value : Number((value + steps * (this.p.sensors[input]?.resolution ?? 0)).toPrecision(12)), unit };
  }

  /** Does what a step asks of the hand. False when what it waits for never happens. */
  hand(name: string): boolean {
    const { id } = this.p.plan.procedure;
    for (const move of movesAt(id, name, this.window)) {
      if ('act' in move) this.logger = this.logger.act(move);
      else if ('seconds' in move) this.wait(move.seconds * 1000);
      else
        for (let waited = 0; !this.logger.happening.has(move.until); waited += LINE_MS) {
          if (waited > EVENT_PATIENCE_MS) return false;
          this.wait(LINE_MS);
        }
    }
    return true;
  }

  atWindow(low: Quantity, high: Quantity): void {
    this.window = { low, high };
  }

  /** Lets the rig run until the statement is allowed; false when patience runs out. */
  untilReached(body: EventBody, patience = PATIENCE_MS): boolean {
    for (let waited = 0; !this.person(body); waited += LINE_MS) {
      if (waited > patience) return false;
      this.wait(LINE_MS);
    }
    return true;
  }

  /** As `untilReached`, where nothing but a mistake in the rig could keep it from coming. */
  until(body: EventBody): void {
    if (!this.untilReached(body))
      throw new Error(`the rig never got as far as ${JSON.stringify(body)} (${this.logger.at} ms, ${JSON.stringify(this.lastLine)})`);
  }
}

/** What a practised hand answers when nothing else is asked of it: yes, and of an item that need not apply, that it does not. */
function usual(item: CheckItem): { readonly answer: 'yes' } | { readonly answer: 'notApplicable'; readonly reason: string } {
  return item.optional ? { answer: 'notApplicable', reason: 'not fitted' } : { answer: 'yes' };
}

type Turn = Exclude<Next, { kind: 'closed' }>;

/** What a person answers: what the run was told to answer, else what a look at the rig finds. */
function answerTo(hand: Hand, p: Practice, item: CheckItem): { readonly answer: 'yes' | 'no' | 'notApplicable'; readonly reason?: string } {
  const told = p.answers?.[item.id];
  if (told) return told;
  return hand.signs.wrong.has(originOf(item.id)) ? { answer: 'no', reason: 'not in order' } : usual(item);
}

/** Answers an item: a look takes its time, and where its gauge shows otherwise the answer is no. */
function answered(hand: Hand, p: Practice, item: CheckItem): void {
  const said = { kind: 'answered' as const, item: item.id, ...answerTo(hand, p, item) };
  const took = p.plan.figures[item.for ?? ''];
  if (item.for !== undefined && took) hand.wait(decimalIn(took, 'ms').toNumber());
  // A needle on its way is waited for; one that stays where it is is the answer.
  if (!hand.untilReached(said, NEEDLE_MS)) hand.person({ ...said, answer: 'no', reason: 'its gauge shows otherwise' });
}

function hold(hand: Hand, p: Practice, n: Extract<Turn, { kind: 'hold' }>): void {
  const left = Math.max(LINE_MS, n.until - hand.state.at);
  if (p.breakOff?.stage !== n.stage.id) {
    hand.wait(left);
    return;
  }
  hand.wait(left / 2);
  hand.person({ kind: 'ended', stage: n.stage.id, attempt: n.attempt, reason: p.breakOff.reason });
}

function carryOut(hand: Hand, p: Practice, n: Turn): void {
  switch (n.kind) {
    case 'begin':
      hand.wait(HAND_MS);
      hand.hand(originOf(n.stage.id));
      hand.person({ kind: 'began', stage: n.stage.id, attempt: n.attempt, ...(n.attempt > 1 ? { reason: 'done again' } : {}) });
      return;
    case 'answer':
      hand.wait(HAND_MS);
      answered(hand, p, n.item);
      return;
    case 'spot':
      hand.wait(HAND_MS);
      // A place takes its time: it is looked at until it may be called dry.
      hand.untilReached({ kind: 'spotted', spot: n.spot.id, grade: hand.signs.bubbles[n.spot.id] ?? 'none' });
      return;
    case 'read':
      hand.wait(HAND_MS);
      hand.person({ kind: 'reading', channel: n.channel, quantity: hand.typed(p.readByHand?.[n.channel] ?? n.channel) });
      return;
    case 'act': {
      const came = hand.hand(n.step.id);
      hand.wait(HAND_MS);
      if (came) hand.until({ kind: 'marked', mark: n.step.id });
      else if (!hand.person({ kind: 'marked', mark: NEVER_COMES }))
        hand.person({ kind: 'ended', stage: n.stage.id, attempt: n.attempt, reason: 'it never came' });
      return;
    }
    case 'reach':
      hand.atWindow(n.low, n.high);
      hand.hand(n.step.id);
      if (!hand.untilReached({ kind: 'marked', mark: n.step.id }) && !hand.person({ kind: 'marked', mark: NEVER_COMES }))
        hand.person({ kind: 'ended', stage: n.stage.id, attempt: n.attempt, reason: 'the window is not reached' });
      return;
    case 'wait':
      hand.hand(n.step.id);
      hand.wait(Math.max(0, n.until - hand.state.at));
      if (!hand.untilReached({ kind: 'marked', mark: n.step.id }) && !hand.person({ kind: 'marked', mark: NEVER_COMES }))
        throw new Error(`${n.step.id} of ${p.plan.procedure.id} never ends`);
      return;
    case 'start':
      if (n.stage.steps.at(-1)?.kind === 'reach') hand.wait(TRIM_MS);
      hand.atWindow(n.low, n.high);
      hand.hand(`${originOf(n.stage.id)}:start`);
      hand.until({ kind: 'marked', mark: 'start' });
      // The tap is shut as the start is read, and not before: a needle that strays from the window can then still be trimmed.
      hand.hand('start');
      return;
    case 'hold':
      hold(hand, p, n);
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
 * @example Object.keys(exampleOf('suit.inflation', 'inflate').state.attempts) // ['gather', 'look', 'rig-proof', 'inflate', 'aftercare']
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
