/** Closer together than this no hand presses two keys, ms; a scanner that types does. */
export const BURST_MS = 50;
/** Fewer signs are no code. */
const LEAST_SIGNS = 4;

/** What a key was: pressed by a hand as far as one can tell yet, one of a scanner's, or the Enter that ends what a scanner typed. */
export type Heard = 'alone' | 'burst' | { readonly scanned: string };

/** Tells the keys of a scanner that types from those of a hand, by nothing but their pace. */
export class Wedge {
  private signs = '';
  private at = -Infinity;

  heard(key: string, atMs: number): Heard {
    const sign = key.length === 1;
    if (!sign && key !== 'Enter') return key === 'Shift' ? 'burst' : 'alone';
    const burst = atMs - this.at < BURST_MS;
    this.at = atMs;
    if (!burst) {
      this.signs = sign ? key : '';
      return 'alone';
    }
    if (sign) {
      this.signs += key;
      return 'burst';
    }
    const scanned = this.signs;
    this.signs = '';
    return scanned.length >= LEAST_SIGNS ? { scanned } : 'burst';
  }
}
