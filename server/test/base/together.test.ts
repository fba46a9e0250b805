import { describe, expect, it } from 'vitest';
import { Together } from '../../src/base/together';

/** Work that is done when it is told so. */
class Slow {
  begun = 0;
  readonly ends: (() => void)[] = [];
  readonly work = (): Promise<number> => {
    const n = ++this.begun;
    return new Promise((resolve) => this.ends.push(() => resolve(n)));
  };
}

const settled = () => new Promise((done) => setTimeout(done, 0));

describe('what many ask at the same time', () => {
  it('is worked out once for all who came while another was under way, and never from before somebody asked', async () => {
    const slow = new Slow();
    const together = new Together(slow.work);
    const first = together.ask();
    await settled();
    // These come while the first is being worked out: what it looks at may be older than they are.
    const later = [together.ask(), together.ask(), together.ask()];
    await settled();
    expect(slow.begun).toBe(1);
    slow.ends[0]?.();
    expect(await first).toBe(1);
    await settled();
    expect(slow.begun).toBe(2);
    slow.ends[1]?.();
    expect(await Promise.all(later)).toEqual([2, 2, 2]);
    const alone = together.ask();
    await settled();
    slow.ends[2]?.();
    expect(await alone).toBe(3);
  });

  it('goes on after a failure, which all who waited for it are told', async () => {
    let broken = true;
    const together = new Together(() => (broken ? Promise.reject(new Error('away')) : Promise.resolve('here')));
    const both = await Promise.allSettled([together.ask(), together.ask()]);
    expect(both.map((b) => b.status)).toEqual(['rejected', 'rejected']);
    broken = false;
    expect(await together.ask()).toBe('here');
  });
});
