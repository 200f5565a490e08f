import DataLoader from 'dataloader';

/**
 * Makes one call of many: what is asked for with one key each, at about the same time, is done by one call of `work` with
 * all the keys. It gives the results in the order of the keys, an Error for one that failed alone; when it fails as a
 * whole, all of them have failed.
 *
 * What comes goes together at the end of the running turn of the event loop, or when what `until` gives for the first of
 * them has come about; never more than `most` at once.
 */
export function together<K, V>(
  work: (keys: readonly K[]) => Promise<ArrayLike<V | Error>>,
  { most = 100, until = turn }: { most?: number; until?: () => Promise<unknown> } = {},
): (key: K) => Promise<V> {
  const loader = new DataLoader<K, V>(work, {
    cache: false,
    maxBatchSize: most,
    batchScheduleFn: (go) => void until().then(go),
  });
  return (key) => loader.load(key);
}

function turn(): Promise<void> {
  return new Promise((resolve) => setImmediate(resolve));
}
