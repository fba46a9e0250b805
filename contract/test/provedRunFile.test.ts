import { createHash } from 'node:crypto';
import { readFileSync } from 'node:fs';
import { catalogue, procedureById, type RunEvent } from '@grellin/core';
import { practiceRun } from '@grellin/core/practice';
import { describe, expect, it } from 'vitest';
import {
  digestText,
  ENVELOPE_VERSION,
  GENESIS,
  judgeProvedRunFile,
  Malformed,
  PROVED_RUN_FILE_FORMAT,
  provedRunFileJsonSchema,
  sealText,
  type Link,
  type ProvedRunFile,
} from '../src';

const sampleFile = (name: string): unknown => JSON.parse(readFileSync(new URL(`../../docs/samples/${name}`, import.meta.url), 'utf8'));

const sha256 = (text: string): string => createHash('sha256').update(text).digest('hex');

/** Events in the envelopes that a server would have stored them in. */
function chained(events: readonly RunEvent[], late: ReadonlySet<string> = new Set()): readonly Link[] {
  let previous = GENESIS;
  return events.map((event, i) => {
    const envelope = {
      run: 'run-1',
      seq: i + 1,
      lease: 1,
      late: late.has(event.id),
      by: 'officer',
      storedAt: '2026-11-28T08:00:00.000Z',
      previous,
      event,
      version: ENVELOPE_VERSION,
    };
    const link = { ...envelope, hash: sha256(sealText(envelope)) };
    previous = link.hash;
    return link;
  });
}

const digest = sha256(digestText(procedureById('suit.inflation')));
/** A run on the suit's rig, as a server would have kept it. */
function kept(fault: string): ProvedRunFile {
  const { events } = practiceRun('suit.inflation', 'mbar-16.5', 'suit', fault);
  const chain = chained(events.map((e) => (e.kind === 'opened' ? { ...e, procedure: digest } : e)));
  return {
    format: PROVED_RUN_FILE_FORMAT,
    procedure: { id: 'suit.inflation', edition: '2' },
    head: { seq: chain.length, hash: chain.at(-1)?.hash ?? '' },
    chain,
  };
}
const leaking = kept('zip end');
const flawOf = async (value: unknown): Promise<string> => {
  try {
    await judgeProvedRunFile(value, sha256);
  } catch (error) {
    if (error instanceof Malformed) return error.flaws.map((f) => `${f.path} ${f.code}`).join(', ');
    throw error;
  }
  return 'judged';
};

describe('a run file that carries its chain', () => {
  it('is judged, and its line names the head that proves it', async () => {
    const judged = await judgeProvedRunFile(leaking, sha256);
    expect([judged.verdict, judged.blocks, judged.holds, judged.condemns, judged.proof]).toEqual(['fail', true, true, false, { head: leaking.head.hash }]);
    expect((await judgeProvedRunFile(kept('none'), sha256)).verdict).toBe('pass');
  });
  it('of the first edition is still read, and proves nothing', async () => {
    expect((await judgeProvedRunFile(sampleFile('suit-inflation-pass.json'), sha256)).proof).toBe('unproved');
  });

  const { chain, head } = leaking;
  const at = Math.floor(chain.length / 2);
  const moved = [...chain.slice(0, at), chain[at + 1], chain[at], ...chain.slice(at + 2)];
  const changed = chain.map((l, i) => (i === at ? { ...l, storedAt: '2026-11-28T09:00:00.000Z' } : l));
  it.each<[string, unknown, string]>([
    ['an event taken out', { ...leaking, chain: chain.filter((_, i) => i !== at) }, `chain[${String(at)}].seq chainOrder`],
    ['two events changed about', { ...leaking, chain: moved }, `chain[${String(at)}].seq chainOrder`],
    ['an event changed', { ...leaking, chain: changed }, `chain[${String(at)}].hash chainChanged`],
    ['the end cut off', { ...leaking, chain: chain.slice(0, -1) }, 'head chainEnd'],
    ['the end cut off with its head', { ...leaking, chain: chain.slice(0, -1), head: { ...head, seq: chain.length - 1 } }, 'head chainEnd'],
    ['an event of another run', { ...leaking, chain: chain.map((l, i) => (i === at ? { ...l, run: 'run-2' } : l)) }, `chain[${String(at)}].run chainRun`],
    [
      'an event called late, to be left out',
      { ...leaking, chain: chain.map((l, i) => (i === at ? { ...l, late: true } : l)) },
      `chain[${String(at)}].hash chainChanged`,
    ],
    [
      'an event taken out and the rest numbered anew',
      { ...leaking, chain: chain.filter((_, i) => i !== at).map((l, i) => ({ ...l, seq: i + 1 })) },
      `chain[${String(at)}].previous chainBroken`,
    ],
    ['no events', { ...leaking, chain: [] }, 'chain min'],
    ['no head', { ...leaking, head: undefined }, 'head optionality'],
    ['another edition than the run was made by', { ...leaking, procedure: { id: 'suit.inflation', edition: '1' } }, 'procedure procedureChanged'],
    ['another procedure', { ...leaking, procedure: { id: 'ba.facepiece', edition: '2' } }, 'procedure procedureChanged'],
  ])('%s: is refused by name', async (_, file, flaw) => {
    expect(await flawOf(file)).toContain(flaw);
  });
  it('whose opening was replaced by a looser one is refused, even with every hash made anew, for what the head of the record says', async () => {
    const opened = chain[0]?.event;
    if (opened?.kind !== 'opened') throw new Error('no opening');
    const other = chained([{ ...opened, ruleSet: 'mbar-10' }, ...chain.slice(1).map((l) => l.event)]);
    expect(await flawOf({ ...leaking, chain: other })).toBe('head chainEnd');
  });
  it('without an opening is no run', async () => {
    const headless = chained(chain.slice(1).map((l) => l.event));
    expect(await flawOf({ ...leaking, chain: headless, head: { seq: headless.length, hash: headless.at(-1)?.hash } })).toContain('chainOpening');
  });
  it('leaves late events out, as the record did', async () => {
    const events = chain.map((l) => l.event);
    const note = { id: 'late-1', source: 'old', n: 1, at: 5000, kind: 'abandoned', reason: 'late' } as const;
    const with_ = chained([...events.slice(0, 5), note, ...events.slice(5)], new Set(['late-1']));
    const file = { ...leaking, chain: with_, head: { seq: with_.length, hash: with_.at(-1)?.hash } };
    expect((await judgeProvedRunFile(file, sha256)).verdict).toBe('fail');
  });
  it('publishes a schema that keeps every kind of event', () => {
    const text = JSON.stringify(provedRunFileJsonSchema());
    for (const kind of ['opened', 'recorded', 'samples', 'withdrawn']) expect(text).toContain(`"${kind}"`);
    expect(catalogue.length).toBeGreaterThan(20);
  });
});

describe('taking back, doing over and breaking off in a failing run', () => {
  const events = leaking.chain.map((l) => l.event);
  const end = events.findIndex((e) => e.kind === 'sealed');
  it('never makes it pass: the line says blocks, and the earlier attempts', async () => {
    const before = events.slice(0, end);
    const reading = before.findLast((e) => e.kind === 'marked' && e.mark === 'start');
    const source = reading?.source ?? '';
    const n = Math.max(...before.filter((e) => e.source === source).map((e) => e.n));
    const at = Math.max(...before.map((e) => e.at));
    const stories: readonly (readonly object[])[] = [
      [{ kind: 'withdrawn', event: reading?.id, reason: 'a slip' }],
      [
        { kind: 'began', stage: 'inflate', attempt: 2, reason: 'again' },
        { kind: 'ended', stage: 'inflate', attempt: 2, reason: 'enough' },
      ],
      [{ kind: 'abandoned', reason: 'enough' }],
    ];
    for (const story of stories) {
      const more = story.map((body, i) => ({ id: `more-${String(i)}`, source, n: n + 1 + i, at: at + 1000 * (i + 1), ...body }) as RunEvent);
      const sealed: readonly RunEvent[] = story.some((s) => 'kind' in s && s.kind === 'abandoned')
        ? []
        : [{ id: 'seal', source, n: n + more.length + 1, at: at + 60_000, kind: 'sealed' }];
      const file = chained([...before, ...more, ...sealed]);
      const judged = await judgeProvedRunFile({ ...leaking, chain: file, head: { seq: file.length, hash: file.at(-1)?.hash } }, sha256);
      expect([judged.verdict === 'pass', judged.blocks], JSON.stringify(story)).toEqual([false, true]);
    }
  });
});
