import { Mutex } from 'async-mutex';

/** Runs work on the same key one after the other; work on different keys runs side by side. */
export class Serial {
  private readonly mutexes = new Map<string, Mutex>();

  /** Whether work on the key is waiting or running. */
  isBusy(key: string): boolean {
    return this.mutexes.get(key)?.isLocked() ?? false;
  }

  run<T>(key: string, work: () => Promise<T>): Promise<T> {
    const mutex = this.mutexes.get(key) ?? new Mutex();
    this.mutexes.set(key, mutex);
    return mutex.runExclusive(work).finally(() => {
      if (!mutex.isLocked()) this.mutexes.delete(key);
    });
  }
}
