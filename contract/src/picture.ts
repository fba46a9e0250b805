/**
 * What a picture may be that is kept beside a run: a JPEG of one scene and nothing else. Whatever a camera writes beside it (where it was taken, whose camera it
 * was, a smaller picture of it, words) is refused, so that nobody finds in a record what nobody meant to put there.
 */

/** Bytes of one picture, and its longer side in dots. */
export const MOST_PICTURE_BYTES = 600_000;
export const LONGEST_PICTURE_SIDE = 2048;

export type PictureFlaw = 'large' | 'notJpeg' | 'metadata' | 'torn' | 'colours' | 'side';

export interface PictureFacts {
  readonly width: number;
  readonly height: number;
}

const [MARK, SOI, EOI, SOS, TEM] = [0xff, 0xd8, 0xd9, 0xda, 0x01];
const isRestart = (marker: number): boolean => marker >= 0xd0 && marker <= 0xd7;
/** What the picture itself is made of: its frame (baseline or progressive), its tables, its restarts. */
const OF_THE_PICTURE: ReadonlySet<number> = new Set([0xc0, 0xc1, 0xc2, 0xc4, 0xdb, 0xdd]);
const FRAMES: ReadonlySet<number> = new Set([0xc0, 0xc1, 0xc2]);
const JFIF = [0x4a, 0x46, 0x49, 0x46, 0x00];
/** A JFIF mark without a smaller picture in it is this long. */
const JFIF_LENGTH = 16;

/** The end of a scan: the next mark that is neither a stuffed byte nor a restart. */
function afterScan(bytes: Uint8Array, from: number): number {
  for (let at = from; at + 1 < bytes.length; at++) {
    const next = bytes[at + 1] ?? 0;
    if (bytes[at] === MARK && next !== 0 && next !== MARK && !isRestart(next)) return at;
  }
  return bytes.length;
}

/** A piece of a JPEG: its mark, its words, and behind a start of scan the picture itself. */
interface Segment {
  readonly marker: number;
  /** Where its mark stands, where its words begin and end, and where the next mark stands. */
  readonly start: number;
  readonly from: number;
  readonly to: number;
  readonly end: number;
}

/** The segments of a JPEG in their order; null where it is torn. */
function segmentsOf(bytes: Uint8Array): readonly Segment[] | null {
  const found: Segment[] = [];
  let at = 2;
  for (;;) {
    if (bytes[at] !== MARK) return null;
    while (bytes[at + 1] === MARK) at++;
    const marker = bytes[at + 1];
    if (marker === undefined || marker === 0 || marker === TEM || isRestart(marker)) return null;
    // What stands behind the end is no picture.
    if (marker === EOI) return at + 2 === bytes.length ? found : null;
    const length = ((bytes[at + 2] ?? 0) << 8) | (bytes[at + 3] ?? 0);
    const to = at + 2 + length;
    if (length < 2 || to > bytes.length) return null;
    const end = marker === SOS ? afterScan(bytes, to) : to;
    found.push({ marker, start: at, from: at + 4, to, end });
    at = end;
  }
}

/** Whether a segment is of the picture itself, and no word beside it. */
function ofThePicture(bytes: Uint8Array, { marker, from, to }: Segment): boolean {
  if (marker === 0xe0) return to - from === JFIF_LENGTH - 2 && JFIF.every((b, i) => bytes[from + i] === b);
  return marker === SOS || OF_THE_PICTURE.has(marker);
}

/**
 * The same picture without a word beside it: what a camera or a program wrote there is left out, no dot of it is changed.
 * @returns null where it is torn, or no JPEG
 * @example plainPicture(new Uint8Array([0xff, 0xd8, 0xff, 0xfe, 0, 3, 0x68, 0xff, 0xd9])) // Uint8Array [0xff, 0xd8, 0xff, 0xd9]: its comment is gone
 */
export function plainPicture(bytes: Uint8Array): Uint8Array | null {
  const segments = bytes[0] === MARK && bytes[1] === SOI ? segmentsOf(bytes) : null;
  if (!segments) return null;
  const kept = segments.filter((s) => ofThePicture(bytes, s)).flatMap((s) => [...bytes.subarray(s.start, s.end)]);
  return Uint8Array.from([MARK, SOI, ...kept, MARK, EOI]);
}

/**
 * Reads what a picture is, and what is wrong with it.
 * @param bytes the file, whole
 * @returns its size in dots, or its first flaw
 * @example readPicture(new Uint8Array([0x89, 0x50, 0x4e, 0x47])) // { flaw: 'notJpeg' }
 */
export function readPicture(bytes: Uint8Array): PictureFacts | { readonly flaw: PictureFlaw } {
  if (bytes.length > MOST_PICTURE_BYTES) return { flaw: 'large' };
  if (bytes[0] !== MARK || bytes[1] !== SOI) return { flaw: 'notJpeg' };
  const segments = segmentsOf(bytes);
  if (!segments) return { flaw: 'torn' };
  if (!segments.every((s) => ofThePicture(bytes, s))) return { flaw: 'metadata' };
  const frames = segments.filter((s) => FRAMES.has(s.marker));
  const [frame] = frames;
  if (!frame || frames.length > 1 || frame.to - frame.from < 6 || !segments.some((s) => s.marker === SOS)) return { flaw: 'torn' };
  const word = (i: number): number => ((bytes[frame.from + i] ?? 0) << 8) | (bytes[frame.from + i + 1] ?? 0);
  const [height, width, colours] = [word(1), word(3), bytes[frame.from + 5]];
  // Four colours are inks of a printer, which a page for the screen shows wrong.
  if (bytes[frame.from] !== 8 || (colours !== 1 && colours !== 3)) return { flaw: 'colours' };
  if (width === 0 || height === 0 || Math.max(width, height) > LONGEST_PICTURE_SIDE) return { flaw: 'side' };
  return { width, height };
}

/** What is told of a picture that is not kept. */
export const pictureFlaws: Readonly<Record<PictureFlaw, string>> = {
  large: `A picture may be ${String(MOST_PICTURE_BYTES / 1000)} kB at most.`,
  notJpeg: 'Only JPEG pictures are kept.',
  metadata: 'This picture carries more than the picture: where or by whom it was taken, or words. It is not kept so.',
  torn: 'This picture is torn, or something is hung behind it.',
  colours: 'This picture has colours that no screen shows.',
  side: `A picture may be ${String(LONGEST_PICTURE_SIDE)} dots at its longer side at most.`,
};
