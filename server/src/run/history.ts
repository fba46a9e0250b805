import { emptyRun, fold, planOfRun, type Plan, type RunEvent, type RunState } from '@grellin/core';
import { and, asc, eq, gt } from 'drizzle-orm';
import { Coded } from '../base';
import { type Queries, run, runEvent } from '../db';
import { publishedByDigest } from '../procedure';

export type RunEntity = typeof run.$inferSelect;
export type StoredEvent = typeof runEvent.$inferSelect;

/** A run as its events tell it, up to a position. */
export interface RunHistory {
  readonly plan: Plan;
  readonly state: RunState;
  readonly seq: number;
  /** The run's row at that position, where this server wrote it. */
  readonly entity?: RunEntity;
}

/** The plan of a run, from the copies in its opening event. */
export async function planOf(db: Queries, opened: RunEvent): Promise<Plan> {
  if (opened.kind !== 'opened') throw new Coded('run.unknown', 'The run has no beginning.');
  const document = await publishedByDigest(db, opened.procedure);
  const made = planOfRun(document, opened);
  if (!made.ok) throw new Coded('run.planRefused', 'The plan of this run can no longer be made.', made.refusal.values);
  return made.plan;
}

/** Stored events after a position, in order: all of them, or the first of them. */
export function eventsAfter(db: Queries, id: string, seq: number, most?: number): Promise<StoredEvent[]> {
  const all = db
    .select()
    .from(runEvent)
    .where(and(eq(runEvent.run, id), gt(runEvent.seq, seq)))
    .orderBy(asc(runEvent.seq));
  return most === undefined ? all : all.limit(most);
}

/**
 * Folded runs that were asked for lately. It holds nothing that the database does not: an entry is a prefix of the stored chain, only ever
 * brought forward from there, so any number of servers may each have their own.
 */
export class Histories {
  private readonly kept = new Map<string, RunHistory>();
  constructor(private readonly most = 200) {}

  /**
   * The run's history up to its newest stored event. Asked under the run's row lock, it is the truth.
   * @param newest the position of that event, where it is known: what is kept up to it is not asked for again
   */
  async upToDate(db: Queries, id: string, newest?: number): Promise<RunHistory> {
    const kept = this.kept.get(id);
    if (kept && kept.seq === newest) return kept;
    const fresh = await eventsAfter(db, id, kept?.seq ?? 0);
    let state = kept?.state ?? emptyRun;
    for (const stored of fresh) if (!stored.late) state = fold(state, stored.event);
    const opened = kept ? undefined : fresh[0]?.event;
    const plan = kept?.plan ?? (opened ? await planOf(db, opened) : undefined);
    if (!plan) throw new Coded('run.unknown', 'There is no such run.');
    const history = { plan, state, seq: fresh.at(-1)?.seq ?? kept?.seq ?? 0 };
    this.keep(id, history);
    return history;
  }

  /** What this server knows of a run without asking: no more than a guess of where it stands now. */
  ofThisServer(id: string): RunHistory | undefined {
    return this.kept.get(id);
  }

  /** Keeps what a run has become. What it is kept of must have been committed. */
  keep(id: string, history: RunHistory): void {
    this.kept.delete(id);
    this.kept.set(id, history);
    const oldest = this.kept.keys().next();
    if (this.kept.size > this.most && !oldest.done) this.kept.delete(oldest.value);
  }
}
