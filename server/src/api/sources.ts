import { cellsQuerySchema } from '@tether/contract';
import { Router } from 'express';
import { describeFolders } from '../db/sources.ts';
import type { Services } from '../services.ts';
import { readCells, readContents } from '../sources/contents.ts';
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
  router.get('/:id/cells', async (request, response) => {
    const query = parseRequest(response, cellsQuerySchema, request.query);
    if (!query) return;
    const { sheet, reference } = query;
    answer(response, await readCells(services, request.params.id, sheet, reference));
  });
  return router;
}
