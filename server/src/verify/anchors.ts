import { mkdir, open, readFile } from 'node:fs/promises';
import { dirname } from 'node:path';
import { GENESIS, MerkleRoot, readAnchors, type Anchor } from '@grellin/contract';
import type { Pool } from 'pg';
import { Coded } from '../base';
import { sha256 } from '../run';
import { recordsInOrder } from './source';

/** The night's anchor is looked for so often. */
const LOOK_MS = 5 * 60_000;
const ANCHOR_LOCK = 460_000_003;

/** A file of anchors outside of the database, only ever added to. */
export class Anchors {
  private timer: NodeJS.Timeout | undefined;

  constructor(
    private readonly pool: Pool,
    private readonly file: string | null,
    private readonly now: () => Date,
    /** The station's day. */
    private readonly day: (at: Date) => string,
  ) {}

  private async text(): Promise<string> {
    return this.file === null ? '' : readFile(this.file, 'utf8').catch(() => '');
  }

  /** The newest last. */
  async list(): Promise<readonly Anchor[]> {
    return readAnchors(await this.text()).anchors.map((a) => a.anchor);
  }

  /**
   * Anchors all that is sealed now.
   * @throws Coded where no file of anchors is kept
   */
  async write(): Promise<Anchor> {
    const { file } = this;
    if (file === null) throw new Coded('anchor.none', 'This server keeps no file of anchors: name one in ANCHOR_FILE.');
    const client = await this.pool.connect();
    try {
      // Two servers that share a file write one after the other.
      await client.query('SELECT pg_advisory_lock($1)', [ANCHOR_LOCK]);
      // One picture of the records, whatever is sealed meanwhile.
      await client.query('BEGIN ISOLATION LEVEL REPEATABLE READ READ ONLY');
      const tree = new MerkleRoot(sha256);
      for await (const record of recordsInOrder(client)) await tree.add(record);
      await client.query('COMMIT');
      const before = (await this.text()).trimEnd().split('\n').at(-1) ?? '';
      const anchor: Anchor = {
        version: 1,
        at: this.now().toISOString(),
        records: tree.records,
        root: await tree.root(),
        previous: before === '' ? GENESIS : sha256(before),
      };
      await mkdir(dirname(file), { recursive: true });
      const handle = await open(file, 'a', 0o600);
      try {
        await handle.write(`${JSON.stringify(anchor)}\n`);
        await handle.sync();
      } finally {
        await handle.close();
      }
      return anchor;
    } finally {
      await client.query('SELECT pg_advisory_unlock_all()').catch(() => undefined);
      client.release();
    }
  }

  /** Sees to it that every day has its anchor. */
  start(): void {
    if (this.file === null) return;
    const look = async (): Promise<void> => {
      const last = (await this.list()).at(-1);
      if (last === undefined || this.day(new Date(last.at)) < this.day(this.now())) await this.write();
    };
    this.timer = setInterval(() => void look().catch(() => undefined), LOOK_MS).unref();
    void look().catch(() => undefined);
  }

  stop(): void {
    clearInterval(this.timer);
  }
}
