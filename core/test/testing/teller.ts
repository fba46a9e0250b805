import { emptyRun, fold, judge, may, next, type EventBody, type Next, type Plan, type RunEvent, type RunResult, type RunState } from '../../src';

/** Says things in a run as somebody at the bench would: each is asked of `may` first. Times in seconds. */
export class Teller {
  state: RunState = emptyRun;
  private n = 0;
  constructor(readonly plan: Plan) {}

  private event(at: number, body: EventBody): RunEvent {
    return { id: `e${this.n + 1}`, source: 'hand', n: this.n + 1, at: Math.round(at * 1000), ...body };
  }

  /** @returns the event's id */
  say(at: number, body: EventBody): string {
    const event = this.event(at, body);
    const refusal = may(this.plan, this.state, event);
    if (refusal) throw new Error(`${JSON.stringify(body)} at ${at} s: ${refusal.code} ${JSON.stringify(refusal.values)}`);
    this.state = fold(this.state, event);
    this.n += 1;
    return event.id;
  }

  /** Writes it without asking, as a file would that nobody asked about. */
  write(at: number, body: EventBody): void {
    this.state = fold(this.state, this.event(at, body));
    this.n += 1;
  }

  /** Why it may not be said: the code, and for a step the reason's. */
  refused(at: number, body: EventBody): string | null {
    const refusal = may(this.plan, this.state, this.event(at, body));
    return refusal && (refusal.values['why'] ?? refusal.code);
  }

  /** Yes to every item of a stage, from its beginning to its end. */
  check(at: number, stage: string, items: readonly string[], every = 0): number {
    this.say(at, { kind: 'began', stage, attempt: 1 });
    items.forEach((item, i) => this.say(at + (i + 1) * every, { kind: 'answered', item, answer: 'yes' }));
    const end = at + (items.length + 1) * every;
    this.say(end, { kind: 'ended', stage, attempt: 1 });
    return end;
  }

  get next(): Next {
    return next(this.plan, this.state);
  }

  get result(): RunResult {
    return judge(this.plan, this.state);
  }
}
