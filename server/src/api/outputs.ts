import { randomUUID } from 'node:crypto';
import type { PrintProgress } from '@tether/contract';
import { fault } from '@tether/core';
import { parse } from 'cookie';
import { Router } from 'express';
import { findDocument } from '../db/documents.ts';
import type { Services } from '../services.ts';
import { currentPerson, subjectAt } from './gate.ts';
import { refuse } from './respond.ts';

/** How long a printed file is kept for being fetched. */
const KEPT_MS = 10 * 60_000;

/** Documents as files: PDF. */
export function outputRoutes(services: Services): Router {
  const { db, printer } = services;
  const router = Router();
  router.param('id', subjectAt(services, 'document'));
  const printed = new Map<string, { bytes: Buffer; name: string; personId: string }>();

  // Whoever looks at the sheets is about to print them.
  router.get('/:id/printer', (_request, response) => {
    printer.prepare();
    response.json(null);
  });
  /**
   * Prints, telling how far it has come line by line; ends with the file’s id or a fault. Leaving stops it. With `marks`
   * cells that changed since the person last looked are marked.
   */
  router.get('/:id/print', async (request, response) => {
    const found = await findDocument(db, request.params.id);
    if (!found) return refuse(response, fault('not-found', { what: 'document' }));
    const stopping = new AbortController();
    response.on('close', () => stopping.abort());
    response.setHeader('content-type', 'application/x-ndjson');
    response.setHeader('cache-control', 'no-store');
    const tell = (line: PrintProgress) => response.write(`${JSON.stringify(line)}\n`);
    const { localPort } = request.socket;
    const result = await printer.print(
      {
        url: `http://127.0.0.1:${localPort}/documents/${found.id}/print${request.query.marks === undefined ? '' : '?marks'}`,
        cookies: Object.entries(parse(request.headers.cookie ?? '')).map(([name, value]) => ({
          name,
          value: value ?? '',
        })),
      },
      tell,
      stopping.signal,
    );
    if (stopping.signal.aborted) return;
    if (result.ok) {
      const file = randomUUID();
      printed.set(file, {
        bytes: result.value,
        name: found.name,
        personId: currentPerson(response).id,
      });
      setTimeout(() => printed.delete(file), KEPT_MS).unref();
      tell({ file });
    } else tell({ fault: result.fault });
    response.end();
  });
  router.get('/:id/print/:file', (request, response) => {
    const found = printed.get(request.params.file);
    if (!found || found.personId !== currentPerson(response).id) {
      return refuse(response, fault('not-found', { what: 'printed file' }));
    }
    response.setHeader('content-type', 'application/pdf');
    response.setHeader(
      'content-disposition',
      `attachment; filename*=UTF-8''${encodeURIComponent(`${found.name}.pdf`)}`,
    );
    response.end(found.bytes);
  });
  return router;
}
