import { catalogue } from '@grellin/core';
import { describe, expect, it } from 'vitest';
import type { Queries } from '../../src/db';
import { publishedByDigest } from '../../src/procedure';

/** A database that answers one question, when it is let. */
class Answering {
  asked = 0;

  constructor(private readonly answer: () => Promise<readonly unknown[]>) {}

  get db(): Queries {
    const where = (): Promise<readonly unknown[]> => {
      this.asked += 1;
      return this.answer();
    };
    return { select: () => ({ from: () => ({ where }) }) } as unknown as Queries; // as much of it as is asked
  }
}

describe('a procedure by its digest', () => {
  const [document] = catalogue;

  it('is asked of the database once, however many records are read at once and after', async () => {
    const database = new Answering(() => new Promise((done) => setTimeout(() => done([{ document }]), 5)));
    const all = await Promise.all(Array.from({ length: 1000 }, () => publishedByDigest(database.db, 'a'.repeat(64))));
    expect(all.every((found) => found === document)).toBe(true);
    await publishedByDigest(database.db, 'a'.repeat(64));
    expect(database.asked).toBe(1);
  });

  it('whose question failed in another’s transaction is asked again by whoever shared it, and not kept as failed', async () => {
    const digest = 'b'.repeat(64);
    const aborted = new Answering(() => Promise.reject(new Error('current transaction is aborted')));
    const sound = new Answering(() => Promise.resolve([{ document }]));
    const first = publishedByDigest(aborted.db, digest);
    const second = publishedByDigest(sound.db, digest);
    await expect(first).rejects.toThrow('aborted');
    expect(await second).toBe(document);
    expect([aborted.asked, sound.asked]).toEqual([1, 1]);
  });

  it('that is kept nowhere is refused by its code, each time it is asked for', async () => {
    const empty = new Answering(() => Promise.resolve([]));
    const ask = (): Promise<unknown> => publishedByDigest(empty.db, 'c'.repeat(64));
    await expect(ask()).rejects.toMatchObject({ code: 'procedure.unknown' });
    await expect(ask()).rejects.toMatchObject({ code: 'procedure.unknown' });
    expect(empty.asked).toBe(2);
  });
});
