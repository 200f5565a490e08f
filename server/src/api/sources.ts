import {
  cellsQuerySchema,
  changeModeSchema,
  chartQuerySchema,
  findCellsSchema,
  sourceReadingSchema,
  sourceSearchSchema,
  takeRequestSchema,
} from '@tether/contract';
import { ok } from '@tether/core';
import { Router } from 'express';
import { doStep } from '../changing/step.ts';
import { STEPS } from '../changing/steps/registry.ts';
import { describeFolders, searchHeadings } from '../db/sources.ts';
import { listSourceUses } from '../db/tethers.ts';
import type { Services } from '../services.ts';
import {
  changeReading,
  previewReach,
  readCells,
  readChart,
  readContents,
} from '../sources/contents.ts';
import { findCells } from '../sources/find-cells.ts';
import { currentPerson, may, subjectAt } from './gate.ts';
import { answer, parseRequest } from './respond.ts';

/** Source folders, and what their files hold. */
export function sourceRoutes(services: Services): Router {
  const router = Router();
  router.param('id', subjectAt(services, 'source'));
  const mayLook = may(services, 'source', 'look');
  const mayChange = may(services, 'source', 'change');
  router.get('/', async (_request, response) => {
    response.json(await describeFolders(services.db));
  });
  router.get('/search', async (request, response) => {
    const query = parseRequest(response, sourceSearchSchema, request.query);
    if (query) response.json(await searchHeadings(services.db, query.words.split(/\s+/)));
  });
  // A look, though it is a POST: what was pasted is too large for an address.
  router.post('/find', mayLook, async (request, response) => {
    const body = parseRequest(response, findCellsSchema, request.body);
    if (body) response.json(await findCells(services, body.cells));
  });
  router.get('/:id/chart', async (request, response) => {
    const query = parseRequest(response, chartQuerySchema, request.query);
    if (query) answer(response, await readChart(services, request.params.id, query.chart));
  });
  router.put('/:id/reading', mayChange, async (request, response) => {
    const body = parseRequest(response, sourceReadingSchema, request.body);
    if (body)
      answer(
        response,
        await changeReading(services, currentPerson(response).id, request.params.id, body),
      );
  });
  router.put('/:id/mode', mayChange, async (request, response) => {
    const body = parseRequest(response, changeModeSchema, request.body);
    if (!body) return;
    const person = currentPerson(response);
    const wish = { of: 'source' as const, id: request.params.id, mode: body.mode };
    const done = await doStep(services, STEPS.mode, wish, { personId: person.id });
    answer(response, done.ok ? ok(null) : done);
  });
  router.get('/:id/contents', async (request, response) => {
    answer(response, await readContents(services, request.params.id));
  });
  // A look, though it is a POST: a reach is too large for an address.
  router.post('/:id/take', mayLook, async (request, response) => {
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
