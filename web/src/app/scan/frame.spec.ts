import bwipjs from 'bwip-js/node';
import { describe, expect, it } from 'vitest';
import { codeIn } from './frame';

/** What another library draws of a code, as a camera would see it: dark on light, turned by quarters where it is square. */
function picture(bcid: string, text: string, scale = 4): { readonly rgba: Uint8ClampedArray; readonly width: number; readonly height: number } {
  const [drawn] = bwipjs.raw({ bcid, text }) as readonly { pixs?: number[]; pixx?: number; pixy?: number; sbs?: number[] }[];
  const across = drawn?.pixx ?? 0;
  const rows: readonly (readonly boolean[])[] = drawn?.pixs
    ? Array.from({ length: drawn.pixy ?? 0 }, (_, y) => Array.from({ length: across }, (_, x) => drawn.pixs?.[y * across + x] === 1))
    : Array.from({ length: 30 }, () => (drawn?.sbs ?? []).flatMap((n, i) => Array.from({ length: n }, () => i % 2 === 0)));
  const [w, h, quiet] = [rows[0]?.length ?? 0, rows.length, 10];
  const [width, height] = [(w + 2 * quiet) * scale, (h + 2 * quiet) * scale];
  const rgba = new Uint8ClampedArray(width * height * 4).fill(255);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++)
      if (rows[Math.floor(y / scale) - quiet]?.[Math.floor(x / scale) - quiet] === true) rgba.set([30, 30, 30], 4 * (y * width + x));
  return { rgba, width, height };
}

describe('a picture of a camera', () => {
  it.each([
    ['qrcode', 'https://leaks.example/to?serial=SV-1204&tag=GS-01'],
    ['datamatrix', 'SV-1204-B'],
    ['code128', 'SV-1204'],
  ])('with a %s drawn by another library is read', (kind, text) => {
    const { rgba, width, height } = picture(kind, text);
    expect(codeIn(rgba, width, height)).toBe(text);
  });

  it('with nothing in it, or half a code, says nothing', () => {
    expect(codeIn(new Uint8ClampedArray(64 * 64 * 4).fill(200), 64, 64)).toBeNull();
    const { rgba, width, height } = picture('qrcode', 'https://leaks.example/to?serial=SV-1204&tag=GS-01');
    expect(codeIn(rgba.subarray(0, 4 * width * Math.floor(height / 2)), width, Math.floor(height / 2))).toBeNull();
  });
});
