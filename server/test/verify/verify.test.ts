import { mkdtemp, readFile, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import {
  judgeProvedRunFile,
  MerkleRoot,
  readCode,
  type ProvedRunFile,
  type Anchor,
  type CertificateAnswer,
  type RecordView,
  type RunView,
  type VerificationProgress,
} from '@grellin/contract';
import type { FastifyInstance } from 'fastify';
import pg from 'pg';
import { afterAll, afterEach, beforeAll, beforeEach, describe, expect, it } from 'vitest';
import { everyRunWhole, keptOf, sealOf, walk } from '../../src';
import { sealUnprotected } from '../../src/db/seal';
import { sha256 } from '../../src/run/seal';
import { HeldClock, HeldSpeaker } from '../testing/speaker';
import { Person, station, type Station } from '../testing/station';

const clock = new HeldClock('2026-11-25T08:00:00Z');
let s: Station;
let app: FastifyInstance;
let tester: Person;
let officer: Person;
let folder: string;
let anchorFile: string;
let owner: pg.Client;
const runs: RunView[] = [];
let record: RecordView;

beforeAll(async () => {
  s = await station({ now: clock.now() });
  folder = await mkdtemp(join(tmpdir(), 'grellin-anchors-'));
  anchorFile = join(folder, 'anchors.jsonl');
  app = await s.serve({ anchorFile }, clock);
  tester = await new Person(app).signIn('tester');
  officer = await new Person(app).signIn('officer');
  for (const end of [3.9, 3.9, 3.0]) {
    const speaker = new HeldSpeaker(await tester.open(s, { assets: { suit: s.ids.suit2 } }), tester, clock);
    await speaker.through(end);
    runs.push((await tester.ask<RunView>('GET', `/api/runs/${speaker.run.id}`)).body);
    clock.ms += 60_000;
  }
  record = (await tester.ask<RecordView>('GET', `/api/records/${runs[0]?.record ?? ''}`)).body;
  // Who would tamper with it has the owner's sign-in: the application's role may not.
  owner = new pg.Client({ connectionString: s.url });
  await owner.connect();
});
afterAll(async () => {
  await owner.end();
  await s.close();
  await rm(folder, { recursive: true });
});

// Within the change that is tried, which is taken back.
const verify = async (anchors: string | null = null) => walk(await keptOf(owner), anchors);
const codes = async (anchors: string | null = null) => [...new Set((await verify(anchors)).faults.map((f) => f.code))];
const [first, second] = [() => runs[0]?.id ?? '', () => runs[1]?.id ?? ''];

describe('the application’s own role', () => {
  it('cannot change what is sealed, whatever it asks', async () => {
    for (const statement of [
      "UPDATE run_event SET event = '{}'",
      'DELETE FROM run_event',
      "UPDATE record SET verdict = 'pass'",
      'DELETE FROM record',
      "UPDATE procedure SET document = '{}'",
      "UPDATE paper SET bytes = ''",
      'DELETE FROM run_lease',
      'TRUNCATE run_event',
    ])
      await expect(s.connection.pool.query(statement)).rejects.toThrow(/permission denied/);
  });
});

describe('a server that signs in as the owner', () => {
  it('is told that the seal is not protected, and what makes the right role; one that signs in as that role is not', async () => {
    expect(await sealUnprotected(s.connection.pool)).toContain('CREATE ROLE grellin_server LOGIN');
    const name = `server_${String(process.pid)}`;
    await owner.query(`CREATE ROLE ${name} LOGIN PASSWORD 'for-the-test' IN ROLE grellin_app`);
    const to = new URL(s.url);
    to.username = name;
    to.password = 'for-the-test';
    const proper = new pg.Pool({ connectionString: to.href, options: '-c role=grellin_app', max: 1 });
    expect(await sealUnprotected(proper)).toBeNull();
    await proper.end();
    await owner.query(`DROP ROLE ${name}`);
  });
});

describe('a sealed run', () => {
  it('carries in its seal the verdict, the digest of the findings, and the editions of procedure and methods', async () => {
    const { rows } = await owner.query<{ event: Record<string, unknown>; version: number; hash: string }>('SELECT event, version, hash FROM run_event WHERE run = $1 ORDER BY seq DESC LIMIT 1', [first()]); // prettier-ignore
    expect(rows[0]).toMatchObject({
      version: 2,
      hash: record.head,
      event: {
        kind: 'recorded',
        source: 'server',
        verdict: 'pass',
        blocks: false,
        record: record.number,
        item: s.ids.suit2,
        tag: 'GS-02',
        edition: expect.any(String) as string,
      },
    });
    expect((rows[0]?.event['methods'] as string[]).some((m) => m.startsWith('decay'))).toBe(true);
    expect(await verify()).toMatchObject({ runs: 3, faults: [], otherwise: [] });
  });

  it('takes no verdict from a person', async () => {
    const event = { id: 'forged', source: 'bench:x', n: 1, at: 1, kind: 'recorded', record: 'GR-1', verdict: 'pass' };
    expect(await tester.ask('POST', `/api/runs/${first()}/events`, { lease: 1, events: [event] })).toMatchObject({ status: 400, body: { code: 'malformed' } });
  });
});

describe('whoever changes what is kept, with the owner’s rights, is found', () => {
  beforeEach(() => owner.query('BEGIN'));
  afterEach(() => owner.query('ROLLBACK'));
  const sample = "(SELECT max(seq) FROM run_event WHERE run = $1 AND event->>'kind' = 'reading')";

  it('a sample changed', async () => {
    await owner.query(`UPDATE run_event SET event = jsonb_set(event, '{quantity,value}', '3.99') WHERE run = $1 AND seq = ${sample}`, [first()]);
    const { faults } = await verify();
    expect(faults).toEqual([expect.objectContaining({ code: 'chain.hash', run: first(), seq: expect.any(Number) as number })]);
  });

  it('the tail cut, with the run’s own count put right', async () => {
    await owner.query("DELETE FROM run_event WHERE run = $1 AND event->>'kind' IN ('sealed', 'recorded')", [first()]);
    await owner.query('UPDATE run SET (seq, head) = (SELECT seq, hash FROM run_event WHERE run = $1 ORDER BY seq DESC LIMIT 1) WHERE id = $1', [first()]);
    expect(await codes()).toEqual(['chain.tail']);
  });

  it('two events put in another order', async () => {
    await owner.query('UPDATE run_event SET seq = 1000 - seq WHERE run = $1 AND seq IN (5, 6)', [first()]);
    await owner.query('UPDATE run_event SET seq = CASE seq WHEN 995 THEN 6 WHEN 994 THEN 5 END WHERE run = $1 AND seq > 900', [first()]);
    expect(await codes()).toEqual(['chain.previous', 'chain.hash']);
  });

  it('two runs swapped', async () => {
    const other = '01a21210-5165-73ba-a61a-96e6123016d0';
    await owner.query("SET LOCAL session_replication_role = 'replica'");
    await owner.query('UPDATE run_event SET run = $1 WHERE run = $2', [other, first()]);
    await owner.query('UPDATE run_event SET run = $1 WHERE run = $2', [first(), second()]);
    await owner.query('UPDATE run_event SET run = $1 WHERE run = $2', [second(), other]);
    expect(await codes()).toContain('chain.hash');
    expect(new Set((await verify()).faults.map((f) => f.run))).toEqual(new Set([first(), second()]));
  });

  it('a verdict turned over: in the record, in the findings, in the seal', async () => {
    await owner.query("UPDATE record SET verdict = 'pass', blocks = false WHERE verdict = 'fail'");
    expect(await codes()).toEqual(['record.verdict']);
    await owner.query('ROLLBACK');
    await owner.query('BEGIN');
    await owner.query("UPDATE record SET result = jsonb_set(result, '{findings,0,verdict}', '\"pass\"') WHERE verdict = 'fail'");
    await owner.query("UPDATE record SET result = jsonb_set(result, '{findings,1,reasons}', '[]')");
    expect(await codes()).toContain('record.findings');
    await owner.query('ROLLBACK');
    await owner.query('BEGIN');
    await owner.query(
      "UPDATE run_event SET event = event || '{\"verdict\":\"pass\",\"blocks\":false}' WHERE event->>'kind' = 'recorded' AND event->>'verdict' = 'fail'",
    );
    await owner.query("UPDATE record SET verdict = 'pass', blocks = false WHERE verdict = 'fail'");
    expect(await codes()).toEqual(['chain.hash']);
  });

  it('a pass moved to another item', async () => {
    await owner.query('UPDATE record SET asset = $1 WHERE number = $2', [s.ids.suit, record.number]);
    expect(await codes()).toEqual(['record.item']);
  });

  it('a document changed under its digest', async () => {
    await owner.query("UPDATE procedure SET document = jsonb_set(document, '{title}', '\"Another\"') WHERE id = 'suit.inflation'");
    expect(await codes()).toEqual(['procedure.digest']);
  });

  it('a certificate’s bytes changed', async () => {
    await owner.query('ROLLBACK');
    expect((await tester.ask('GET', `/api/records/${record.number}/certificate.pdf`)).status).toBe(200);
    await owner.query('BEGIN');
    await owner.query("UPDATE paper SET bytes = bytes || 'x'");
    expect(await codes()).toEqual(['paper.bytes']);
  });

  it('a chain rewritten as a whole, with every hash and the record put right: by the anchor, and by a certificate', async () => {
    await owner.query('ROLLBACK');
    expect((await officer.ask('POST', '/api/anchors')).status).toBe(201);
    await owner.query('BEGIN');
    await rewrite();
    expect(await codes()).toEqual([]);
    expect(await codes(anchorFile)).toEqual(['anchor.root']);
  });

  it('a record left out, with its run', async () => {
    await owner.query("SET LOCAL session_replication_role = 'replica'");
    await owner.query('DELETE FROM record WHERE number = $1', [record.number]);
    await owner.query('DELETE FROM run_event WHERE run = $1', [first()]);
    await owner.query('DELETE FROM run WHERE id = $1', [first()]);
    expect(await codes(anchorFile)).toContain('anchor.fewer');
  });

  it('an anchor taken out of its file, or changed', async () => {
    await owner.query('ROLLBACK');
    clock.ms += 1000;
    await officer.ask('POST', '/api/anchors');
    const text = await readFile(anchorFile, 'utf8');
    const lines = text.trimEnd().split('\n');
    const other = join(folder, 'forged.jsonl');
    await writeFile(other, `${lines.slice(1).join('\n')}\n`);
    expect(await codes(other)).toContain('anchor.broken');
    await writeFile(other, text.replace(/"records":\d+/, '"records":1'));
    expect(await codes(other)).toEqual(expect.arrayContaining(['anchor.root']));
    expect(await codes(anchorFile)).toEqual([]);
    await owner.query('BEGIN');
  });
});

/** As somebody with time and the owner's rights would: a reading of the first run, and every hash after it. */
async function rewrite(): Promise<void> {
  for await (const run of everyRunWhole(owner)) {
    if (run.id !== first()) continue;
    let previous = '0'.repeat(64);
    for (const link of run.chain) {
      const event =
        link.event.kind === 'reading' ? { ...link.event, quantity: { ...link.event.quantity, value: link.event.quantity.value + 0.01 } } : link.event;
      const hash = sealOf({ ...link, event, previous });
      await owner.query('UPDATE run_event SET event = $1, previous = $2, hash = $3 WHERE run = $4 AND seq = $5', [event, previous, hash, run.id, link.seq]);
      previous = hash;
    }
    await owner.query('UPDATE run SET head = $1 WHERE id = $2', [previous, run.id]);
    await owner.query('UPDATE record SET head = $1 WHERE run = $2', [previous, run.id]);
  }
}

describe('a certificate', () => {
  it('is given out byte for byte as it was issued, until the run is amended', async () => {
    const paper = async () => (await tester.ask('GET', `/api/records/${record.number}/certificate.pdf`)).raw;
    const [one, two] = [await paper(), await paper()];
    expect(sha256(one)).toBe(sha256(two));
    const before = await owner.query('SELECT 1 FROM paper WHERE record = $1', [record.number]);
    await officer.ask('POST', `/api/runs/${first()}/events`, {
      lease: 1,
      events: [{ id: 'note-1', source: 'bench:note', n: 1, at: 600_000, kind: 'amended', note: 'the zip was new' }],
    });
    expect(sha256(await paper())).not.toBe(sha256(one));
    expect((await owner.query('SELECT 1 FROM paper WHERE record = $1', [record.number])).rowCount).toBe((before.rowCount ?? 0) + 1);
    expect((await verify(anchorFile)).faults).toEqual([]);
  });

  const ask = (code: Record<string, unknown>) => app.inject({ method: 'POST', url: '/api/verify', payload: code });
  const code = () => ({ number: record.number, tag: record.tag, serial: record.serial, verdict: record.verdict, sealedAt: record.sealedAt, head: record.head });

  it('is answered for without a sign-in, with how the item stands now, and names nobody', async () => {
    const answer = (await ask(code())).json<CertificateAnswer>();
    // It passed then; its newest run failed.
    expect(answer).toMatchObject({ known: true, sound: true, verdict: 'pass', tag: 'GS-02', readiness: 'blocked', amended: true });
    expect(JSON.stringify(answer)).not.toContain('The tester');
  });

  it('tells nothing to who does not hold the full head, and one that was changed is told so', async () => {
    expect((await ask({ ...code(), head: '0'.repeat(64) })).json()).toEqual({ known: false });
    expect((await ask({ ...code(), number: 'GR-2026-99999' })).json()).toEqual({ known: false });
    expect((await ask({ ...code(), head: record.head.slice(0, 16) })).statusCode).toBe(400);
    expect((await ask({ ...code(), verdict: 'fail' })).json()).toMatchObject({ known: true, sound: false, verdict: 'pass' });
  });

  it('is asked about at most thirty times a minute from one address', async () => {
    const statuses: number[] = [];
    for (let i = 0; i < 40; i++)
      statuses.push((await app.inject({ method: 'POST', url: '/api/verify', payload: code(), remoteAddress: '10.3.3.3' })).statusCode);
    expect(statuses.filter((n) => n === 200).length).toBeLessThanOrEqual(31);
    expect(statuses.at(-1)).toBe(429);
    expect((await ask(code())).statusCode).toBe(200);
  });

  it('has a code that is read again, the first edition’s too', () => {
    const lines = ['GRELLIN/1', record.number, record.tag, record.serial, record.verdict, record.sealedAt, record.head].join('\n');
    expect(readCode(lines)).toEqual(code());
    expect(readCode('https://elsewhere.example/#n=1')).toBeNull();
  });
});

describe('an officer', () => {
  it('verifies everything with progress, off the thread that answers', async () => {
    const reply = await officer.ask<string>('GET', '/api/verification');
    const told = [...reply.body.matchAll(/^data: (.*)$/gm)].map((m) => JSON.parse(m[1] ?? '') as VerificationProgress);
    expect(told.at(-1)).toMatchObject({ finished: true, done: 3, total: 3, faultCount: 0 });
    expect((await tester.ask('GET', '/api/verification')).status).toBe(403);
  });

  it('sees the anchors, and takes a bundle along', async () => {
    expect((await officer.ask<Anchor[]>('GET', '/api/anchors')).body.length).toBeGreaterThan(1);
    const { body } = await officer.ask<string>('GET', '/api/bundle');
    const lines = body.trimEnd().split('\n').map((l) => JSON.parse(l) as Record<string, unknown>); // prettier-ignore
    expect(lines[0]).toMatchObject({ format: 'grellin-bundle/1', runs: 3 });
    expect(lines.filter((l) => 'run' in l)).toHaveLength(3);
  });
});

describe('a run taken along with its chain', () => {
  it('is judged anywhere as it was sealed, with the head that its certificate carries; one event changed, and it is refused by name', async () => {
    const { status, body } = await tester.ask<ProvedRunFile>('GET', `/api/records/${record.number}/run.json`);
    expect(status).toBe(200);
    const judged = await judgeProvedRunFile(body, sha256);
    expect([judged.verdict, judged.blocks]).toEqual([record.verdict, record.blocks]);
    expect(body.chain.map((l) => l.hash)).toContain(record.head);
    expect(judged.proof).toEqual({ head: body.chain.at(-1)?.hash });
    const k = body.chain.findIndex((l) => l.event.kind === 'samples' || l.event.kind === 'reading');
    const other = { ...body, chain: body.chain.map((l, i) => (i === k ? { ...l, event: { ...l.event, at: l.event.at + 1 } } : l)) };
    await expect(judgeProvedRunFile(other, sha256)).rejects.toMatchObject({ flaws: [{ path: `chain[${String(k)}].hash`, code: 'chainChanged' }] });
    expect((await tester.ask('GET', '/api/records/GR-9999-9/run.json')).status).toBe(404);
  });
});

describe('the root over all heads', () => {
  it('is the textbook’s: a tree of pairs, an odd one waiting for its turn', async () => {
    const record = (n: number) => ({ number: String(n), run: 'r', head: 'h' });
    const rootOf = async (n: number) => {
      const tree = new MerkleRoot(sha256);
      for (let i = 0; i < n; i++) await tree.add(record(i));
      return tree.root();
    };
    const leaf = (n: number) => sha256(`L["${String(n)}","r","h"]`);
    const node = (a: string, b: string) => sha256(`N${a}${b}`);
    expect(await rootOf(0)).toBe('0'.repeat(64));
    expect(await rootOf(1)).toBe(leaf(0));
    expect(await rootOf(2)).toBe(node(leaf(0), leaf(1)));
    expect(await rootOf(3)).toBe(node(node(leaf(0), leaf(1)), leaf(2)));
    expect(await rootOf(7)).toBe(node(node(node(leaf(0), leaf(1)), node(leaf(2), leaf(3))), node(node(leaf(4), leaf(5)), leaf(6))));
    const roots = await Promise.all(Array.from({ length: 20 }, (_, i) => rootOf(i)));
    expect(new Set(roots).size).toBe(20);
  });
});
