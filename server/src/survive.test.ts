import { EventEmitter } from 'node:events';
import { describe, expect, test } from '@jest/globals';
import pg from 'pg';
import { isConnectionGone, surviveLostConnections } from './survive.ts';

const withCode = (code: string) => Object.assign(new Error('as it is told'), { code });

describe('a process outlives its database', () => {
  test('when what nobody waited for fails because the connection is gone', () => {
    const process = new EventEmitter();
    const said: unknown[] = [];
    surviveLostConnections(process, (_, error) => said.push(error));
    // PostgreSQL, appendix A: admin_shutdown, cannot_connect_now, connection_failure, too_many_connections.
    for (const code of ['57P01', '57P03', '08006', '53300', 'ECONNREFUSED']) {
      expect(process.emit('unhandledRejection', withCode(code))).toBe(true);
    }
    process.emit('unhandledRejection', new Error('Connection terminated unexpectedly'));
    expect(said).toHaveLength(6);
  });

  test('and no other error', () => {
    const process = new EventEmitter();
    surviveLostConnections(process, () => undefined);
    for (const error of [withCode('23505'), new TypeError('no function'), 'words', undefined]) {
      expect(() => process.emit('unhandledRejection', error)).toThrow();
    }
  });

  test('as the driver tells it', async () => {
    const client = new pg.Client({ host: '127.0.0.1', port: 1, connectionTimeoutMillis: 2_000 });
    const failed = await client.connect().catch((error: unknown) => error);
    expect(isConnectionGone(failed)).toBe(true);
  });
});
