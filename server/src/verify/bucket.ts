/** So many in so long for one address; a bucket that fills again as time passes. Kept by each server for itself. */
export class Bucket {
  private readonly held = new Map<string, { left: number; at: number }>();
  /** Addresses that are remembered at once: when there are more, those that have waited longest are forgotten, full as they are. */
  private static readonly MOST = 10_000;

  constructor(
    private readonly size: number,
    private readonly fillMs: number,
  ) {}

  /** @returns whether there was one left */
  take(address: string, now: number): boolean {
    const before = this.held.get(address) ?? { left: this.size, at: now };
    const left = Math.min(this.size, before.left + ((now - before.at) / this.fillMs) * this.size);
    this.held.delete(address);
    this.held.set(address, { left: Math.max(0, left - 1), at: now });
    const oldest = this.held.keys().next();
    if (this.held.size > Bucket.MOST && !oldest.done) this.held.delete(oldest.value);
    return left >= 1;
  }
}
