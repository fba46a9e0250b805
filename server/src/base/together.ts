/**
 * Answers that are the same for everybody, worked out for all who ask at the same time: while one is being worked out, whoever comes waits for the next,
 * which is begun after they asked and so knows everything that they know.
 */
export class Together<T> {
  private running: Promise<unknown> | null = null;
  private next: Promise<T> | null = null;

  constructor(private readonly work: () => Promise<T>) {}

  ask(): Promise<T> {
    if (this.next) return this.next;
    const begun = (this.running ?? Promise.resolve()).then(() => {
      this.next = null;
      const one = this.work();
      this.running = one.catch(() => undefined);
      return one;
    });
    this.next = begun;
    return begun;
  }
}
