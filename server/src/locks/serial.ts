/** Runs work on the same key one after the other; work on different keys runs side by side. */
export class Serial {
  private readonly tails = new Map<string, Promise<unknown>>();

  /** Whether work on the key is waiting or running. */
  isBusy(key: string): boolean {
    return this.tails.has(key);
  }

  run<T>(key: string, work: () => Promise<T>): Promise<T> {
    const before = this.tails.get(key) ?? Promise.resolve();
    const result = before.then(work, work);
    const tail = result.catch(() => undefined);
    this.tails.set(key, tail);
    void tail.then(() => {
      if (this.tails.get(key) === tail) this.tails.delete(key);
    });
    return result;
  }
}
