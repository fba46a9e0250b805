import { LONGEST_PICTURE_SIDE, MOST_PICTURE_BYTES } from '@grellin/contract';
import { describe, expect, it } from 'vitest';
import { base64, fromBase64 } from './base64';
import { firstFit, makingsOf } from './fitted';

describe('a picture that is made to fit', () => {
  it('is no larger than it came, keeps its shape, and is made worse before it is made smaller', () => {
    const large = makingsOf(4000, 3000);
    expect(large[0]).toEqual({ width: 1600, height: 1200, quality: 0.85 });
    expect(large[1]).toEqual({ width: 1600, height: 1200, quality: 0.75 });
    expect(large.at(-1)).toEqual({ width: 400, height: 300, quality: 0.65 });
    for (const { width, height } of large) expect([Math.max(width, height) <= LONGEST_PICTURE_SIDE, Math.round((width / height) * 3)]).toEqual([true, 4]);
    expect(makingsOf(320, 200)[0]).toEqual({ width: 320, height: 200, quality: 0.85 });
    // A picture of one row is a picture.
    expect(makingsOf(9000, 1).every((m) => m.height === 1)).toBe(true);
  });

  it('is the first that is small enough; none where none is', async () => {
    const sizes: number[] = [];
    const make = (most: number) => (how: { readonly quality: number; readonly width: number }) => {
      const size = Math.round(most * how.quality * (how.width / 1600));
      sizes.push(size);
      return Promise.resolve(new Uint8Array(size));
    };
    expect((await firstFit(makingsOf(4000, 3000), make(MOST_PICTURE_BYTES * 1.5)))?.length).toBe(Math.round(MOST_PICTURE_BYTES * 1.5 * 0.65));
    expect(sizes).toHaveLength(3);
    expect(await firstFit(makingsOf(4000, 3000), make(MOST_PICTURE_BYTES * 90))).toBe(null);
  });

  it('is the same bytes as text and back', () => {
    const all = Uint8Array.from({ length: 70_000 }, (_, i) => i % 256);
    expect(fromBase64(base64(all))).toEqual(all);
    expect(base64(Uint8Array.from([1, 2, 3]))).toBe('AQID');
  });
});
