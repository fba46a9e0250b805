import { Injectable } from '@angular/core';
import type { RunEvent } from '@grellin/core';
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
    await (await this.open()).add('queue', queued);
  }

  /** In the order in which they were put. */
  async of(run: string, account: string): Promise<readonly Queued[]> {
    const all = await (await this.open()).getAllFromIndex('queue', 'run', run);
    return all.filter((q) => q.account === account);
  }

  async remove(run: string, ids: ReadonlySet<string>): Promise<void> {
    const transaction = (await this.open()).transaction('queue', 'readwrite');
    for (let cursor = await transaction.store.index('run').openCursor(run); cursor; cursor = await cursor.continue())
      if (ids.has(cursor.value.event.id)) await cursor.delete();
    await transaction.done;
  }
}
