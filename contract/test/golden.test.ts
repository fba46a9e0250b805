import { createHash } from 'node:crypto';
import { readdirSync, readFileSync } from 'node:fs';
import type { RunEvent } from '@grellin/core';
import { describe, expect, it } from 'vitest';
import { digestText, ENVELOPE_VERSION, GENESIS, judgeRunFile, sealText } from '../src';

const samples = ['edition-1/', ''].flatMap((folder) =>
  readdirSync(new URL(`../../docs/samples/${folder}`, import.meta.url))
    .filter((name) => name.endsWith('.json'))
    .map((name) => `${folder}${name}`),
);
const RUN = '00000000-0000-4000-8000-000000000000';
const STORED_AT = '2026-11-25T08:00:00.000Z';

const sha256 = (text: string): string => createHash('sha256').update(text).digest('hex');

/** The end of the chain that a run's events make, each stored by the same hand at the same instant. */
function headOf(events: readonly RunEvent[]): string {
  return events.reduce((previous, event, i) => {
    const link = { run: RUN, seq: i + 1, lease: 1, late: false, by: 'golden', storedAt: STORED_AT, previous, event, version: ENVELOPE_VERSION };
    return sha256(sealText(link));
  }, GENESIS);
}

/**
 * The golden list: what every published sample is judged to be, and the head of the chain that its events make. It stays the same to the last digit whatever
 * is moved about in the house; records that are sealed today must verify after it.
 */
describe('the golden list', () => {
  it.each(samples)('%s has the seal that it had', (name) => {
    const file = JSON.parse(readFileSync(new URL(`../../docs/samples/${name}`, import.meta.url), 'utf8')) as { events: readonly RunEvent[] };
    const { verdict, findings } = judgeRunFile(file);
    expect({ verdict, findings: sha256(digestText(findings)), head: headOf(file.events) }).toMatchSnapshot();
  });
});
