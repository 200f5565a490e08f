import { tell } from './tell.ts';

/** Codes of a connection to the database that is gone or cannot be had: of the system, and of PostgreSQL (appendix A). */
const GONE = /^(ECONNREFUSED|ECONNRESET|EPIPE|ENOTFOUND|ETIMEDOUT|08\w{3}|57P0[123]|53300)$/;
/** What the driver says without a code. */
const GONE_WORDS =
  /^(Connection terminated|Client has encountered a connection error|timeout expired)/;

/** Whether an error says that the connection to the database is gone. */
export function isConnectionGone(error: unknown): boolean {
  const { code, message, cause } = (error ?? {}) as Partial<
    Record<'code' | 'message' | 'cause', unknown>
  >;
  if (GONE.test(String(code ?? '')) || GONE_WORDS.test(String(message ?? ''))) return true;
  return cause !== undefined && cause !== error && isConnectionGone(cause);
}

/**
 * Keeps a process alive when the database goes away while nobody waits for what it was asked: the job queue does not wait for
 * what it notes of a finished job, and does the job again later. Every other error that nobody waited for ends the process, as
 * ever.
 */
export function surviveLostConnections(
  process: Pick<NodeJS.EventEmitter, 'on'>,
  say: (what: string, error: unknown) => void = tell,
): void {
  process.on('unhandledRejection', (error: unknown) => {
    if (!isConnectionGone(error)) throw error;
    say('Work that nobody waited for', error);
  });
}
