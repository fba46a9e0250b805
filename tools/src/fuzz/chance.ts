/** Chance that can be repeated: the same seed makes the same requests again. Mulberry32, by Tommy Ettinger; from memory. */
export class Chance {
  constructor(private state: number) {}

  /** From 0 up to, and without, 1. */
  next(): number {
    this.state = (this.state + 0x6d2b79f5) >>> 0;
    let t = this.state;
    t = Math.imul(t ^ (t >>> 15), t | 1);
    t ^= t + Math.imul(t ^ (t >>> 7), t | 61);
    return ((t ^ (t >>> 14)) >>> 0) / 2 ** 32;
  }

  below(n: number): number {
    return Math.floor(this.next() * n);
  }

  /** True so often. */
  once(outOf: number): boolean {
    return this.below(outOf) === 0;
  }

  of<T>(list: readonly T[]): T {
    return list[this.below(list.length)] as T;
  }
}
