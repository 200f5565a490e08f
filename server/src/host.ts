import { startPrinter } from './outputs/printer.ts';
import { type Served, type ServeSettings, serve } from './serve.ts';
import { surviveLostConnections } from './survive.ts';
import { startWorkThreads } from './work-threads.ts';

/**
 * A process that serves one product after another, as the process tells it that began it. Tests of the interface need a
 * product of their own each: what starts slowly, and what runs fast only after a while, is then there from the second one
 * on. A product as people start it is `main.ts`; both are `serve`.
 *
 * It hears `HostOrder` and answers each with `HostAnswer`, in turn. It takes TETHER_BACKUPS and CHROMIUM from the
 * environment as `main.ts` does.
 */
export type HostOrder = { serve: ServeSettings } | { stop: true };
export type HostAnswer = { port: number } | { stopped: true } | { failed: string };

surviveLostConnections(process);
const backups = process.env.TETHER_BACKUPS;
if (!backups) throw new Error('TETHER_BACKUPS is not set.');
const parts = {
  threads: startWorkThreads(backups),
  printer: startPrinter(process.env.CHROMIUM || null),
};
let served: Served | null = null;

async function carryOut(order: HostOrder): Promise<HostAnswer> {
  await served?.stop();
  served = null;
  if ('stop' in order) return { stopped: true };
  served = await serve(order.serve, parts);
  return { port: served.port };
}

process.on('message', (order: HostOrder) => {
  carryOut(order).then(
    (answer) => process.send!(answer),
    (error: Error) => process.send!({ failed: error.message } satisfies HostAnswer),
  );
});
process.on('disconnect', () => process.exit(0));
