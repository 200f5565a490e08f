import { cellsQuerySchema, takeRequestSchema } from '@tether/contract';
import { Router } from 'express';
import { describeFolders } from '../db/sources.ts';
import { listSourceUses } from '../db/tethers.ts';
import type { Services } from '../services.ts';
import { previewReach, readCells, readContents } from '../sources/contents.ts';
import { answer, knownIdOnly, parseRequest } from './respond.ts';

/** Source folders, and what their files hold. */
export function sourceRoutes(services: Services): Router {
  const router = Router();
  router.param('id', knownIdOnly);
  router.get('/', async (_request, response) => {
    response.json(await describeFolders(services.db));
  });
  router.get('/:id/contents', async (request, response) => {
    answer(response, await readContents(services, request.params.id));
  });
  // A look, though it is a POST: a reach is too large for an address. Who may only look has no use for it.
  router.post('/:id/take', async (request, response) => {
    const body = parseRequest(response, takeRequestSchema, request.body);
    if (body) answer(response, await previewReach(services, request.params.id, body.reach));
  });
  router.get('/:id/cells', async (request, response) => {
    const query = parseRequest(response, cellsQuerySchema, request.query);
    if (!query) return;
    const { sheet, reference } = query;
    answer(response, await readCells(services, request.params.id, sheet, reference));
  });
  router.get('/:id/uses', async (request, response) => {
    response.json(await listSourceUses(services.db, request.params.id));
  });
  return router;
}
