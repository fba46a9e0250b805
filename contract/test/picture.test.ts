import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { LONGEST_PICTURE_SIDE, MOST_PICTURE_BYTES, pictureFlaws, plainPicture, readPicture } from '../src';
import { picture, withSegment } from './testing/pictures';

const flawOf = (bytes: Uint8Array): string | null => {
  const read = readPicture(bytes);
  return 'flaw' in read ? read.flaw : null;
};
/** Where a frame's size stands. */
const frameAt = (bytes: Uint8Array): number => bytes.findIndex((b, i) => b === 0xff && (bytes[i + 1] === 0xc0 || bytes[i + 1] === 0xc2)) + 4;

describe('a picture that is kept', () => {
  it('is a JPEG as well-known programs write it, baseline or progressive, coloured or grey', () => {
    for (const name of ['baseline', 'progressive', 'grey'] as const) expect(readPicture(picture(name))).toEqual({ width: 32, height: 24 });
  });

  it('carries no word beside it: neither where, nor by what, nor a smaller picture, nor a profile, nor a comment', () => {
    const plain = picture('baseline');
    const more = {
      exif: withSegment(plain, 0xe1, 'Exif\0\0II*\0GPS 61.2 N 7.1 E'),
      profile: withSegment(plain, 0xe2, 'ICC_PROFILE\0'),
      words: withSegment(plain, 0xed, 'Photoshop 3.0'),
      ink: withSegment(plain, 0xee, 'Adobe'),
      comment: withSegment(plain, 0xfe, 'taken by'),
      second: withSegment(plain, 0xe0, 'JFXX\0\x10 a smaller picture'),
      longer: withSegment(plain, 0xe0, `JFIF\0\x01\x01\0\0\x01\0\x01\x01\x01abc`),
    };
    for (const bytes of Object.values(more)) {
      expect(flawOf(bytes)).toBe('metadata');
      const bare = plainPicture(bytes);
      expect(bare && Buffer.from(bare).equals(Buffer.from(plain))).toBe(true);
    }
  });

  it('is nothing else under its name, and has nothing hung behind it or cut from it', () => {
    const plain = picture('progressive');
    expect(flawOf(new Uint8Array(Buffer.from('<svg xmlns="http://www.w3.org/2000/svg"><script>x</script></svg>')))).toBe('notJpeg');
    expect(flawOf(new Uint8Array(Buffer.from('\x89PNG\r\n\x1a\n', 'latin1')))).toBe('notJpeg');
    expect(flawOf(new Uint8Array())).toBe('notJpeg');
    expect(flawOf(Uint8Array.from([...plain, ...Buffer.from('PK\x03\x04 a zip')]))).toBe('torn');
    for (let cut = 1; cut < plain.length - 1; cut++) expect(flawOf(plain.subarray(0, plain.length - cut))).not.toBe(null);
  });

  it('has no more bytes, no more dots and no other colours than a page shows', () => {
    const plain = picture('baseline');
    expect(flawOf(new Uint8Array(MOST_PICTURE_BYTES + 1))).toBe('large');
    const sized = (width: number, height: number): Uint8Array => {
      const bytes = Uint8Array.from(plain);
      const at = frameAt(bytes);
      bytes.set([height >> 8, height & 255, width >> 8, width & 255], at + 1);
      return bytes;
    };
    expect(flawOf(sized(LONGEST_PICTURE_SIDE, 24))).toBe(null);
    expect(flawOf(sized(LONGEST_PICTURE_SIDE + 1, 24))).toBe('side');
    expect(flawOf(sized(24, LONGEST_PICTURE_SIDE + 1))).toBe('side');
    expect(flawOf(sized(0, 24))).toBe('side');
    expect(flawOf(sized(24, 0))).toBe('side');
    const inks = plainPicture(picture('inks'));
    expect(inks && flawOf(inks)).toBe('colours');
    const deep = Uint8Array.from(plain);
    deep[frameAt(deep)] = 12;
    expect(flawOf(deep)).toBe('colours');
  });

  it('is read without a fault, whatever it is', () => {
    fc.assert(
      fc.property(fc.uint8Array({ maxLength: 300 }), fc.nat(), (rest, cut) => {
        const head = picture('baseline').subarray(0, cut % 700);
        const bytes = Uint8Array.from([...head, ...rest]);
        const flaw = flawOf(bytes);
        expect(flaw === null || flaw in pictureFlaws).toBe(true);
        const bare = plainPicture(bytes);
        expect(bare === null || flawOf(bare) !== 'metadata').toBe(true);
      }),
      { numRuns: 300 },
    );
  });
});
