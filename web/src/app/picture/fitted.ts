import { LONGEST_PICTURE_SIDE, MOST_PICTURE_BYTES } from '@grellin/contract';

/** A picture of this many dots at its longer side shows a plate or a gauge as well as a page prints it. */
const SIDE = 1600;
/** Worse than this nobody reads a plate: rather smaller than worse. */
const QUALITIES = [0.85, 0.75, 0.65] as const;

/** One way to make a picture smaller. */
export interface Making {
  readonly width: number;
  readonly height: number;
  readonly quality: number;
}

/**
 * The ways to make a picture fit what is kept, the best first: first worse, then smaller.
 * @param width its dots as it came
 */
export function makingsOf(width: number, height: number): readonly Making[] {
  const longer = Math.max(width, height);
  return [1, 0.75, 0.5, 0.25].flatMap((part) => {
    const scale = Math.min(1, (Math.min(SIDE, LONGEST_PICTURE_SIDE) * part) / longer);
    const size = { width: Math.max(1, Math.round(width * scale)), height: Math.max(1, Math.round(height * scale)) };
    return QUALITIES.map((quality) => ({ ...size, quality }));
  });
}

/** The first that fits, of those that come out of `make` one after the other. */
export async function firstFit(makings: readonly Making[], make: (how: Making) => Promise<Uint8Array<ArrayBuffer>>): Promise<Uint8Array<ArrayBuffer> | null> {
  for (const how of makings) {
    const bytes = await make(how);
    if (bytes.length <= MOST_PICTURE_BYTES) return bytes;
  }
  return null;
}
