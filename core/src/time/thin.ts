/** A state that an object once showed. */
export interface KeptState {
  id: number;
  /** When it was taken, in milliseconds since 1970. */
  at: number;
}

const DAY = 24 * 3_600_000;
/** All states are kept this long, then the last of each day, then the last of each month. */
export const KEEP_ALL_DAYS = 30;
export const KEEP_DAILY_DAYS = 365;

/**
 * The states of one object that may be forgotten at `now`: all are kept for 30 days, the last of each day (UTC) for a
 * year, and the last of each month for ever. The newest is always kept.
 */
export function statesToForget(states: readonly KeptState[], now: number): number[] {
  const newestFirst = [...states].sort((a, b) => b.at - a.at || b.id - a.id);
  const seen = new Set<string>();
  const forgotten: number[] = [];
  newestFirst.forEach(({ id, at }, index) => {
    const age = now - at;
    if (index === 0 || age <= KEEP_ALL_DAYS * DAY) return;
    const day = new Date(at).toISOString();
    const period = age <= KEEP_DAILY_DAYS * DAY ? day.slice(0, 10) : day.slice(0, 7);
    if (seen.has(period)) forgotten.push(id);
    seen.add(period);
  });
  return forgotten;
}
