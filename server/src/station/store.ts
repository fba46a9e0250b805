import type { StationFacts } from '@grellin/contract';
import { eq } from 'drizzle-orm';
import { type Database, type Queries, station } from '../db';
import { recomputeStanding } from '../standing';

const ONLY = 1;
/** Another server may have changed it: it is read again so often. */
const FRESH_MS = 10_000;

/** The station’s name and time zone; UTC where nobody has said. */
export async function readStation(db: Queries): Promise<StationFacts> {
  const [held] = await db.select({ name: station.name, zone: station.zone }).from(station).where(eq(station.id, ONLY));
  return held ?? { name: '', zone: 'UTC' };
}

/** What is known of the station at this server, read again now and then. */
export class Station {
  private constructor(
    private readonly db: Database,
    private held: StationFacts,
  ) {}

  private readonly timer = setInterval(() => void this.read().catch(() => undefined), FRESH_MS).unref();

  static async of(db: Database): Promise<Station> {
    return new Station(db, await readStation(db));
  }

  get zone(): string {
    return this.held.zone;
  }

  get facts(): StationFacts {
    return this.held;
  }

  private async read(): Promise<void> {
    this.held = await readStation(this.db);
  }

  /** Changes it. Days of what has happened may be others then, so that how everything stands is worked out anew. */
  async change(facts: StationFacts): Promise<StationFacts> {
    await this.db.update(station).set(facts).where(eq(station.id, ONLY));
    await this.read();
    await recomputeStanding(this.db);
    return this.held;
  }

  stop(): void {
    clearInterval(this.timer);
  }
}
