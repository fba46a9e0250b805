import { randomBytes } from 'node:crypto';
import { readdirSync, readFileSync } from 'node:fs';
import pg from 'pg';
import { v7 } from 'uuid';
import { afterAll, beforeAll, describe, expect, inject, it } from 'vitest';
import { connect, refreshMissing, standing } from '../../src';

const folder = new URL('../../drizzle/', import.meta.url);
const files = readdirSync(folder)
  .filter((f) => f.endsWith('.sql'))
  .sort();
const name = `older_${randomBytes(6).toString('hex')}`;
let client: pg.Client;
const url = (): string => {
  const at = new URL(inject('ownerUrl'));
  at.pathname = `/${name}`;
  return at.href;
};
const apply = async (file: string): Promise<void> => {
  for (const statement of readFileSync(new URL(file, folder), 'utf8').split('--> statement-breakpoint')) await client.query(statement);
};

describe('a database of an older program', () => {
  beforeAll(async () => {
    const owner = new pg.Client({ connectionString: inject('ownerUrl') });
    await owner.connect();
    await owner.query(`CREATE DATABASE ${name}`);
    await owner.end();
    client = new pg.Client({ connectionString: url() });
    await client.connect();
  });
  afterAll(() => client.end());

  it('keeps its instruments: each gets its row of the register, at its item’s place, under a tag that nothing else bears', async () => {
    const before = files.filter((f) => f < '0005');
    for (const file of before) await apply(file);
    const [truck, gauge, dash, twin] = [v7(), v7(), v7(), v7()];
    const item = (id: string, tag: string) =>
      client.query(
        "INSERT INTO asset (id, tag, serial, class, title, place, practice, attributes, created_at) VALUES ($1, $2, 's', 'truck', 'Truck', 'Hall', false, '{}', now())",
        [id, tag],
      );
    await item(truck, 'TR-01');
    const quantity = JSON.stringify({ value: 1, unit: 'bar' });
    const instrument = (id: string, tag: string, fitted: string | null, due: string | null) =>
      client.query(
        'INSERT INTO instrument (id, tag, title, fitted_to, low, high, resolution, accuracy, correlation, calibration_due, simulated) VALUES ($1, $2, $3, $4, $5, $5, $5, $5, 0, $6, true)',
        [id, tag, `Gauge ${tag}`, fitted, quantity, due],
      );
    await instrument(gauge, 'MG-01', null, '2030-01-31');
    await instrument(dash, 'TR-01 primary', truck, null);
    await instrument(twin, 'TR-01', null, null);
    for (const file of files.filter((f) => !before.includes(f))) await apply(file);
    const { rows } = await client.query<{ id: string; tag: string; title: string; place: string }>("SELECT id, tag, title, place FROM asset WHERE class = 'instrument' ORDER BY tag"); // prettier-ignore
    expect(rows).toEqual([
      { id: gauge, tag: 'MG-01', title: 'Gauge MG-01', place: 'Instruments' },
      { id: twin, tag: 'TR-01 (instrument)', title: 'Gauge TR-01', place: 'Instruments' },
      { id: dash, tag: 'TR-01 primary', title: 'Gauge TR-01 primary', place: 'Hall' },
    ]);
    // How they stand is worked out when the server starts.
    const connection = connect(url());
    await refreshMissing(connection.db);
    const found = await connection.db.select().from(standing);
    expect(found.find((s) => s.asset === gauge)).toMatchObject({ due: '2030-01-31', usableUntil: '2030-01-31', dueProcedure: 'calibration', owes: true });
    expect(found).toHaveLength(4);
    await connection.close();
  });
});
