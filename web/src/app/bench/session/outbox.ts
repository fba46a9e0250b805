import { inject, Injectable } from '@angular/core';
import type { RunEvent } from '@grellin/core';
import { AwayDoor } from '../../door/awayDoor';
import { openDB, type DBSchema, type IDBPDatabase } from 'idb';

export interface Queued {
  readonly run: string;
  /** It is sent under the account that made it and no other. */
  readonly account: string;
  readonly lease: number;
  /** Missing from what was queued before leases had secrets: the server keeps that as late. */
  readonly secret?: string;
  readonly event: RunEvent;
}

interface OutboxSchema extends DBSchema {
  queue: { key: number; value: Queued; indexes: { run: string } };
}

/**
 * What this browser has said and the server has not yet confirmed, kept in IndexedDB: a typed reading is drawn only once it lies here, so nothing
 * that the screen has shown can be lost.
 */
@Injectable({ providedIn: 'root' })
export class Outbox {
  private readonly door = inject(AwayDoor);
  private away: readonly Queued[] = [];
  private database: Promise<IDBPDatabase<OutboxSchema>> | null = null;

  private open(): Promise<IDBPDatabase<OutboxSchema>> {
    this.database ??= openDB<OutboxSchema>('grellin', 1, {
      upgrade: (db) => {
        db.createObjectStore('queue', { autoIncrement: true }).createIndex('run', 'run');
      },
    });
    return this.database;
  }

  async put(queued: Queued): Promise<void> {
    const station = this.door.station();
    if (station) {
      // Away, the device itself keeps it, encrypted, before it is drawn; what waits here is only what it has to say of it.
      const { run, lease, secret, event } = queued;
      await station.answer('POST', `/api/runs/${run}/events`, new URLSearchParams(), { lease, secret, events: [event] });
      this.away = [...this.away, queued];
      return;
    }
    await (await this.open()).add('queue', queued);
  }

  /** In the order in which they were put. */
  async of(run: string, account: string): Promise<readonly Queued[]> {
    if (this.door.station()) return this.away.filter((q) => q.run === run && q.account === account);
    const all = await (await this.open()).getAllFromIndex('queue', 'run', run);
    return all.filter((q) => q.account === account);
  }

  async remove(run: string, ids: ReadonlySet<string>): Promise<void> {
    this.away = this.away.filter((q) => q.run !== run || !ids.has(q.event.id));
    if (this.door.station()) return;
    const transaction = (await this.open()).transaction('queue', 'readwrite');
    for (let cursor = await transaction.store.index('run').openCursor(run); cursor; cursor = await cursor.continue())
      if (ids.has(cursor.value.event.id)) await cursor.delete();
    await transaction.done;
  }
}
