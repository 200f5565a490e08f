import type { IncomingMessage } from 'node:http';
import type { Duplex } from 'node:stream';
import { WebSocketServer } from 'ws';
import { z } from 'zod';
import { reasonAgainst } from '../people/rights.ts';
import { personOf } from '../people/session.ts';
import type { Services } from '../services.ts';
import { tell } from '../tell.ts';
import { BODY_LIMITS } from './bodies.ts';

const ADDRESS = /^\/api\/documents\/([^/]+)\/writing$/;

/**
 * Takes the connections over which people write in documents together, one a document. Whoever is not signed in, comes from
 * a page of another host, or may not look at the document, gets none.
 */
export function writingSockets({
  db,
  writing,
}: Pick<Services, 'db' | 'writing'>): (
  request: IncomingMessage,
  socket: Duplex,
  head: Buffer,
) => void {
  const sockets = new WebSocketServer({ noServer: true, maxPayload: BODY_LIMITS.text });
  const admitted = async (request: IncomingMessage) => {
    const [, id] = ADDRESS.exec(new URL(request.url ?? '/', 'http://host').pathname) ?? [];
    if (!z.uuid().safeParse(id).success) return 'HTTP/1.1 404 Not Found';
    const { origin, host } = request.headers;
    if (origin !== undefined && new URL(origin).host !== host) return 'HTTP/1.1 403 Forbidden';
    const person = await personOf(db, request);
    if (!person) return 'HTTP/1.1 401 Unauthorized';
    const reason = await reasonAgainst(db, person, 'look', { kind: 'document', id: id! });
    return reason ? 'HTTP/1.1 403 Forbidden' : { id: id! };
  };
  return (request, socket, head) => {
    socket.on('error', () => undefined);
    const refuse = (line: string) => socket.end(`${line}\r\nconnection: close\r\n\r\n`);
    admitted(request).then(
      (admission) => {
        if (typeof admission === 'string') return refuse(admission);
        sockets.handleUpgrade(request, socket, head, (open) =>
          writing.attach(open, request, admission.id),
        );
      },
      (error: unknown) => {
        tell('A connection for writing', error);
        refuse('HTTP/1.1 500 Internal Server Error');
      },
    );
  };
}
