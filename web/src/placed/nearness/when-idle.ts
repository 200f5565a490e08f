/** Work that waits until there is nothing else to do, one piece at a time. */
const waiting = new Set<() => void>();
let isAsked = false;
/** Browsers without notice of idle time wait so long between two pieces. */
const PAUSE_MS = 60;

function ask(): void {
  if (isAsked || waiting.size === 0) return;
  isAsked = true;
  const next = () => {
    isAsked = false;
    // One alone: what it brings about is done after this, and must not add up to a long task.
    const [work] = waiting;
    if (work) {
      waiting.delete(work);
      work();
    }
    ask();
  };
  if ('requestIdleCallback' in window) window.requestIdleCallback(next);
  else setTimeout(next, PAUSE_MS);
}

/** Does the work when there is nothing else to do. Gives the way to take it back. */
export function whenIdle(work: () => void): () => void {
  waiting.add(work);
  ask();
  return () => waiting.delete(work);
}
