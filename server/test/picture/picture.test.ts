import { spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { mkdtemp, readFile, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { readPicture, verifyRun, type KeptRun, type RecordView, type RunView } from '@grellin/contract';
import type { EventBody } from '@grellin/core';
import type { FastifyInstance } from 'fastify';
import pg from 'pg';
import { v7 } from 'uuid';
import { afterAll, beforeAll, beforeEach, describe, expect, it } from 'vitest';
import { picture, withSegment } from '../../../contract/test/testing/pictures';
import { bundleLines, everyRunWhole, keptOf, proceduresOf, readAnew, walk } from '../../src';
import { HeldClock, HeldSpeaker } from '../testing/speaker';
import { Pen, Person, station, type Station } from '../testing/station';

/** Pictures of what was seen: their bytes before the word of them, their digest in the chain, and what a hurried, a careless or a hostile hand does with them. */
const clock = new HeldClock('2026-12-02T08:00:00Z');
let s: Station;
let app: FastifyInstance;
let tester: Person;
let reader: Person;
let owner: pg.Client;
beforeAll(async () => {
  s = await station({ now: clock.now() });
  app = await s.serve({}, clock);
  owner = new pg.Client({ connectionString: s.url });
  await owner.connect();
});
beforeEach(async () => {
  clock.ms += 600_000;
  tester = await new Person(app).signIn('tester');
  reader = await new Person(app).signIn('reader');
});
afterAll(async () => {
  await owner.end();
  await s.close();
});

const sha = (bytes: Uint8Array): string => createHash('sha256').update(bytes).digest('hex');
/** A picture that no other test has sent: another quality of dots in its last table. */
let made = 0;
function fresh(): Uint8Array {
  made += 1;
  const bytes = Uint8Array.from(picture('baseline'));
  // The density of its dots in the JFIF mark: a value that changes no dot.
  bytes[15] = made & 255;
  bytes[17] = (made >> 8) + 1;
  return bytes;
}
interface Refused {
  readonly code?: string;
  readonly values?: Record<string, string>;
}
const send = (bytes: Uint8Array, { as = sha(bytes), type = 'image/jpeg', who = tester } = {}) =>
  who.ask<Refused>('PUT', `/api/pictures/${as}`, Buffer.from(bytes), { 'content-type': type });
const get = (as: string, who = reader) => who.ask<Refused>('GET', `/api/pictures/${as}`);
const speaker = async (): Promise<HeldSpeaker> => new HeldSpeaker(await tester.open(s, { assets: { suit: s.ids.suit2 } }), tester, clock);
/** Says something of a run from a hand of its own: what is refused leaves no gap in another's count. */
async function say(one: HeldSpeaker, body: EventBody) {
  clock.ms += 1000;
  const event = new Pen(`bench:${v7()}`).write(clock.ms - one.began, body);
  const { status, body: answer } = await one.send([event]);
  return { status, id: event.id, code: (answer as Refused).values?.['refusal'] ?? (answer as Refused).code };
}
const tells = (of: string, more: object = {}): EventBody => ({ kind: 'pictured', picture: of, shows: 'plate', ...more });
const recordOf = async (run: RunView): Promise<RecordView> => {
  const { record } = (await tester.ask<RunView>('GET', `/api/runs/${run.id}`)).body;
  return (await reader.ask<RecordView>('GET', `/api/records/${record ?? ''}`)).body;
};

describe('keeping a picture', () => {
  it('gives the bytes back as they came, sandboxed, and only to who is signed in', async () => {
    const bytes = fresh();
    expect((await send(bytes)).status).toBe(204);
    expect((await send(bytes)).status).toBe(204);
    const answer = await get(sha(bytes));
    expect(answer.raw.equals(Buffer.from(bytes))).toBe(true);
    expect(answer.headers).toMatchObject({
      'content-type': 'image/jpeg',
      'x-content-type-options': 'nosniff',
      'content-security-policy': "sandbox; default-src 'none'",
      'cross-origin-resource-policy': 'same-origin',
    });
    expect((await get(sha(bytes), new Person(app))).status).toBe(401);
    expect((await get(sha(fresh()))).status).toBe(404);
    expect((await send(fresh(), { who: reader })).status).toBe(403);
  });

  it('takes nothing that is more than a picture, or another than was named', async () => {
    const exif = withSegment(fresh(), 0xe1, 'Exif\0\0 61.2 N');
    expect(await send(exif)).toMatchObject({ status: 422, body: { code: 'picture.refused', values: { flaw: 'metadata' } } });
    expect(await send(new Uint8Array(Buffer.from('<script>x</script>')))).toMatchObject({ status: 422, body: { values: { flaw: 'notJpeg' } } });
    expect(await send(fresh(), { as: sha(fresh()) })).toMatchObject({ status: 409, body: { code: 'picture.otherBytes' } });
    expect((await send(fresh(), { type: 'text/html' })).status).toBe(415);
    expect(await send(new Uint8Array(Buffer.from('{}')), { type: 'application/json' })).toMatchObject({ status: 422, body: { code: 'picture.refused' } });
    expect((await send(new Uint8Array(700_000))).status).toBe(413);
    for (const as of ['..%2f..%2fetc', 'A'.repeat(64), sha(exif).slice(1)]) expect((await send(fresh(), { as })).status).toBe(400);
  });

  it('lets nobody fill the station with pictures of nothing', async () => {
    const { rows } = await owner.query<{ id: string }>("SELECT id FROM account WHERE name = 'tester'");
    const ids = Array.from({ length: 100 }, () => v7().replaceAll('-', '').padEnd(64, '0'));
    await owner.query('INSERT INTO picture (sha256, bytes, width, height, by, at) SELECT x, $2, 1, 1, $3, $4 FROM unnest($1::text[]) x', [ids, Buffer.from([1]), rows[0]?.id, clock.now()]); // prettier-ignore
    expect(await send(fresh())).toMatchObject({ status: 429, body: { code: 'picture.tooMany' } });
    await owner.query('DELETE FROM picture WHERE sha256 = ANY($1)', [ids]);
    expect((await send(fresh())).status).toBe(204);
  });
});

describe('a run that tells of a picture', () => {
  it('tells of none whose bytes have not come, first come or under the lock', async () => {
    const one = await speaker();
    const bytes = fresh();
    expect(await say(one, tells(sha(bytes)))).toMatchObject({ status: 409, code: 'picture.notKept' });
    await send(bytes);
    expect((await say(one, tells(sha(bytes)))).status).toBe(201);
    expect(await say(one, tells(sha(bytes)))).toMatchObject({ status: 409, code: 'picture.twice' });
    expect(await say(one, tells(sha(fresh()), { item: 'none-of-it' }))).toMatchObject({ status: 409, code: 'item.notHere' });
    expect(await say(one, { kind: 'pictured', picture: 'x', shows: 'plate' })).toMatchObject({ status: 400 });
  });

  it('has it in its record and its certificate, byte for byte, and finds the same with it as without', async () => {
    const one = await speaker();
    const bytes = fresh();
    await send(bytes);
    await say(one, tells(sha(bytes), { note: 'plate of the suit' }));
    await one.through(3.9);
    const record = await recordOf(one.run);
    expect(record.verdict).toBe('pass');
    expect(record.pictures).toMatchObject([{ sha256: sha(bytes), title: 'Picture of a plate', note: 'plate of the suit', by: 'The tester' }]);
    const bare = await speaker();
    await bare.through(3.9);
    // But for the names of the events that each stands on.
    const found = ({ findings }: RecordView) => findings.map((f) => ({ ...f, evidence: f.evidence.length }));
    expect(found(await recordOf(bare.run))).toEqual(found(record));

    const pdf = await reader.ask('GET', `/api/records/${record.number}/certificate.pdf`);
    const folder = await mkdtemp(join(tmpdir(), 'grellin-pdf-'));
    await writeFile(join(folder, 'c.pdf'), pdf.raw);
    // A reader of PDF that is not ours takes the picture out again.
    expect(spawnSync('pdfimages', ['-j', join(folder, 'c.pdf'), join(folder, 'p')]).status).toBe(0);
    const images = await Promise.all(['p-000.jpg', 'p-001.jpg', 'p-002.jpg'].map((name) => readFile(join(folder, name)).catch(() => Buffer.alloc(0))));
    expect(images.some((f) => f.equals(Buffer.from(bytes)))).toBe(true);
    const words = spawnSync('pdftotext', ['-layout', join(folder, 'c.pdf'), '-'], { encoding: 'utf8' }).stdout;
    expect(words).toContain('Picture of a plate. plate of the suit');
    await rm(folder, { recursive: true });
  });

  it('leaves out of the record what was taken back, and keeps it all the same', async () => {
    const one = await speaker();
    const bytes = fresh();
    await send(bytes);
    await one.say(0.1, { kind: 'began', stage: 'gather', attempt: 1 });
    const { id } = await say(one, tells(sha(bytes)));
    expect((await say(one, { kind: 'withdrawn', event: id, reason: 'of another suit' })).status).toBe(201);
    expect((await say(one, { kind: 'abandoned', reason: 'the wrong suit' })).status).toBe(201);
    const record = await recordOf(one.run);
    expect(record.pictures).toEqual([]);
    expect(record.reasons).toContainEqual(expect.objectContaining({ said: 'Taken back', reason: 'of another suit' }));
    expect((await get(sha(bytes))).status).toBe(200);
  });

  it('is a broken record once a picture is changed or gone, in the database and in a bundle', async () => {
    const one = await speaker();
    const bytes = fresh();
    await send(bytes);
    await say(one, tells(sha(bytes)));
    await one.through(3.9);
    const faults = async () => (await walk(await keptOf(owner), null)).faults.map((f) => f.code);
    expect(await faults()).toEqual([]);
    const lines: string[] = [];
    const pool = new pg.Pool({ connectionString: s.url, max: 1 });
    for await (const line of bundleLines(pool, proceduresOf, everyRunWhole, clock.now())) lines.push(String(line));
    await pool.end();
    const bundled = lines.map((l) => JSON.parse(l) as { run?: KeptRun }).find((l) => l.run?.id === one.run.id)?.run;
    if (!bundled) throw new Error('the run is not in the bundle');
    const documents = new Map((await proceduresOf(owner)).map((p) => [p.digest, p.document]));
    const verify = async (run: KeptRun) =>
      (await verifyRun(readAnew(run), documents, (t) => createHash('sha256').update(t).digest('hex'))).faults.map((f) => f.code);
    expect(await verify(bundled)).toEqual([]);
    const other = Buffer.from(fresh()).toString('base64');
    // Whoever changed the picture in a bundle has written its old digest beside it: it is worked out anew.
    expect(await verify({ ...bundled, pictures: (bundled.pictures ?? []).map((p) => ({ ...p, base64: other })) })).toEqual(['picture.bytes']);
    expect(await verify({ ...bundled, pictures: [] })).toEqual(['picture.missing']);

    await owner.query('UPDATE picture SET bytes = $2 WHERE sha256 = $1', [sha(bytes), Buffer.from(fresh())]);
    expect(await faults()).toEqual(['picture.bytes']);
    await owner.query('UPDATE picture SET bytes = $2 WHERE sha256 = $1', [sha(bytes), Buffer.from(bytes)]);
    await owner.query('DELETE FROM run_picture WHERE picture = $1', [sha(bytes)]);
    expect(await faults()).toEqual(['picture.missing']);
    await owner.query('INSERT INTO run_picture VALUES ($1, $2)', [one.run.id, sha(bytes)]);
    expect(readPicture(bytes)).toEqual({ width: 32, height: 24 });
  });

  it('cannot be changed by the application itself', async () => {
    const { rows } = await owner.query<{ table_name: string; privilege_type: string }>(
      "SELECT table_name, privilege_type FROM information_schema.role_table_grants WHERE grantee = 'grellin_app' AND table_name IN ('picture', 'run_picture') ORDER BY 1, 2",
    );
    expect(rows.map((r) => `${r.table_name} ${r.privilege_type}`)).toEqual(['picture INSERT', 'picture SELECT', 'run_picture INSERT', 'run_picture SELECT']);
  });
});
