import {
  cellsQuerySchema,
  changeLinesSchema,
  changeModeSchema,
  chartQuerySchema,
  decideEntrySchema,
  doLinesSchema,
  enterSchema,
  findCellsSchema,
  relinkSchema,
  seeRelinkSchema,
  sourceReadingSchema,
  sourceSearchSchema,
  takeRequestSchema,
  writeBackSchema,
} from '@tether/contract';
import { ok } from '@tether/core';
import { Router } from 'express';
import { enterCells } from '../changing/entries/enter.ts';
import { seeEntries } from '../changing/entries/see.ts';
import { decideEntry, dropEntries, saveEntries } from '../changing/entries/settle.ts';
import { changeLines, seeLines } from '../changing/lines.ts';
import { relink, seeRelink } from '../changing/relink.ts';
import { doStep } from '../changing/step.ts';
import { STEPS } from '../changing/steps/registry.ts';
import { describeFolders, searchHeadings } from '../db/sources.ts';
import { listSourceUses } from '../db/tethers.ts';
import type { Services } from '../services.ts';
import { findCandidates } from '../sources/asking/candidates.ts';
import {
  changeReading,
  previewReach,
  readCells,
  readChart,
  readContents,
} from '../sources/asking/contents.ts';
import { findCells } from '../sources/asking/find-cells.ts';
import { currentPerson, may, subjectAt } from './gate.ts';
import { answer, parseRequest } from './respond.ts';

/** Source folders, and what their files hold. */
// biome-ignore lint/complexity/noExcessiveLinesPerFunction: one route after the other
export function sourceRoutes(services: Services): Router {
  const router = Router();
  router.param('id', subjectAt(services, 'source'));
  router.param('to', subjectAt(services, 'source'));
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
  // Who types into a source changes its file in the end: they must have the right to.
  const mayWrite = may(services, 'source file', 'change');
  router.get('/:id/entries', async (request, response) => {
    const { id } = currentPerson(response);
    answer(response, await seeEntries(services, id, request.params.id));
  });
  router.put('/:id/entries', mayWrite, async (request, response) => {
    const body = parseRequest(response, enterSchema, request.body);
    if (!body) return;
    const { id } = currentPerson(response);
    answer(response, await enterCells(services, id, request.params.id, body));
  });
  router.delete('/:id/entries', mayWrite, async (request, response) => {
    await dropEntries(services, currentPerson(response).id, request.params.id);
    response.json(null);
  });
  router.post('/:id/entries/decide', mayWrite, async (request, response) => {
    const body = parseRequest(response, decideEntrySchema, request.body);
    if (!body) return;
    answer(response, await decideEntry(services, request.params.id, body.entry, body.decision));
  });
  router.post('/:id/entries/save', mayWrite, async (request, response) => {
    const body = parseRequest(response, writeBackSchema, request.body);
    if (!body) return;
    const { id } = currentPerson(response);
    answer(response, await saveEntries(services, id, request.params.id, body.token));
  });
  // A look, though it is a POST: nothing is done.
  router.post('/:id/lines/plan', mayWrite, async (request, response) => {
    const body = parseRequest(response, changeLinesSchema, request.body);
    if (body) answer(response, await seeLines(services, request.params.id, body));
  });
  router.post('/:id/lines', mayWrite, async (request, response) => {
    const body = parseRequest(response, doLinesSchema, request.body);
    if (!body) return;
    const { id } = currentPerson(response);
    const { change, token } = body;
    answer(response, await changeLines(services, id, request.params.id, change, token));
  });
  router.get('/:id/candidates', async (request, response) => {
    answer(response, await findCandidates(services, request.params.id));
  });
  router.get('/:id/relink/:to', async (request, response) => {
    const query = parseRequest(response, seeRelinkSchema, request.query);
    if (!query) return;
    const { id, to } = request.params;
    answer(response, await seeRelink(services, id, to, query.document ?? null));
  });
  router.post('/:id/relink', mayChange, async (request, response) => {
    const body = parseRequest(response, relinkSchema, request.body);
    if (!body) return;
    answer(response, await relink(services, currentPerson(response).id, request.params.id, body));
  });
  router.get('/:id/uses', async (request, response) => {
    response.json(await listSourceUses(services.db, request.params.id));
  });
  return router;
}
