import { randomUUID } from 'node:crypto';
import {
  type KeptPicture,
  type PrintForm,
  type PrintProgress,
  type PrintQuery,
  printQuerySchema,
} from '@tether/contract';
import { fault, ok } from '@tether/core';
import { readPicture } from '@tether/formats';
import { parse } from 'cookie';
import { type Request, Router } from 'express';
import { zipSync } from 'fflate';
import { findDocument } from '../db/documents.ts';
import { keepPicture } from '../db/pictures.ts';
import type { PrintRequest } from '../outputs/printer.ts';
import type { Services } from '../services.ts';
import { currentPerson, may, subjectAt } from './gate.ts';
import { answer, knownIdOnly, parseRequest, refuse } from './respond.ts';

/** How long a printed file is kept for being fetched. */
const KEPT_MS = 10 * 60_000;

/** Documents as files: PDF, SVG, PNG. */
export function outputRoutes(services: Services): Router {
  const { db, printer } = services;
  const router = Router();
  router.param('id', subjectAt(services, 'document'));
  router.param('object', knownIdOnly);
  const printed = new Map<string, PrintedFile & { personId: string }>();

  // Whoever looks at the sheets is about to print them.
  router.get('/:id/printer', (_request, response) => {
    printer.prepare();
    response.json(null);
  });
  // A picture of an object as it stands in the document, kept like those that people take in.
  router.post(
    '/:id/objects/:object/picture',
    may(services, 'document', 'change'),
    async (request, response) => {
      const { id, object } = request.params;
      const done = await printer.picture(
        pageOf(request, `/documents/${id}/print`),
        `[data-tether-id="${object}"]`,
      );
      if (!done.ok) return refuse(response, done.fault);
      const read = readPicture(done.value);
      if (!read.ok) return refuse(response, read.fault);
      const hash = await keepPicture(db, read.value, done.value);
      const { width, height } = read.value;
      answer(
        response,
        ok({ hash, width, height, isLines: false, hasUnit: false } satisfies KeptPicture),
        201,
      );
    },
  );
  /**
   * Prints, telling how far it has come line by line; ends with the file’s id or a fault. Leaving stops it. What is asked
   * for: see `printQuerySchema`.
   */
  router.get('/:id/print', async (request, response) => {
    const asked = parseRequest(response, printQuerySchema, request.query);
    if (!asked) return;
    const found = await findDocument(db, request.params.id);
    if (!found) return refuse(response, fault('not-found', { what: 'document' }));
    const stopping = new AbortController();
    response.on('close', () => stopping.abort());
    response.setHeader('content-type', 'application/x-ndjson');
    response.setHeader('cache-control', 'no-store');
    const tell = (line: PrintProgress) => response.write(`${JSON.stringify(line)}\n`);
    const shown = new URLSearchParams();
    if (asked.marks) shown.set('marks', '');
    if (asked.notes) shown.set('notes', '');
    const result = await printer.print(
      pageOf(request, `/documents/${found.id}/print?${shown}`),
      asked,
      tell,
      stopping.signal,
    );
    if (stopping.signal.aborted) return;
    if (result.ok) {
      const file = randomUUID();
      const personId = currentPerson(response).id;
      printed.set(file, { ...fileOf(result.value, asked, found.name), personId });
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
    response.setHeader('content-type', found.type);
    response.setHeader(
      'content-disposition',
      `attachment; filename*=UTF-8''${encodeURIComponent(found.name)}`,
    );
    response.end(found.bytes);
  });
  return router;
}

interface PrintedFile {
  bytes: Buffer;
  name: string;
  type: string;
}

const TYPES: Record<PrintForm, string> = {
  pdf: 'application/pdf',
  svg: 'image/svg+xml',
  png: 'image/png',
};

/** What was printed as one file to be kept: those of several pages in a ZIP, each under the number of its page. */
function fileOf(files: readonly Buffer[], { as, page }: PrintQuery, name: string): PrintedFile {
  const numbered = (nth: number) => `${name} ${nth}.${as}`;
  const [first, ...more] = files;
  if (more.length === 0) {
    return {
      bytes: first!,
      name: as === 'pdf' || page === undefined ? `${name}.${as}` : numbered(page),
      type: TYPES[as],
    };
  }
  const bytes = zipSync(
    Object.fromEntries(files.map((file, at) => [numbered(at + 1), file])),
    // Pictures are packed already.
    { level: as === 'png' ? 0 : 6 },
  );
  return { bytes: Buffer.from(bytes), name: `${name}.zip`, type: 'application/zip' };
}

/** A page of this server, as it is seen by whoever asks. */
function pageOf({ socket, headers }: Request, path: string): PrintRequest {
  const cookies = Object.entries(parse(headers.cookie ?? '')).map(([name, value]) => ({
    name,
    value: value ?? '',
  }));
  return { url: `http://127.0.0.1:${socket.localPort}${path}`, cookies };
}
