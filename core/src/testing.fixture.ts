/** How much longer than on every day property tests run: `npm run test:long` sets it. */
const { process } = globalThis as { process?: { env: Record<string, string | undefined> } };
const TIMES = Number(process?.env.TEST_TIMES ?? 1);

/** How often a property is tried that is tried `everyDay` times on every day. */
export function runs(everyDay: number): number {
  return everyDay * TIMES;
}
