import {
  ledgerActSchema,
  ledgerPageQuerySchema,
  ledgerQuerySchema,
  ledgerSourcesSchema,
  logQuerySchema,
  saveViewSchema,
  takeBackManySchema,
} from '@tether/contract';
import { type Request, Router } from 'express';
import { layOut } from '../changing/entries/settle.ts';
import { entrySlip } from '../changing/history.ts';
import { actOnMany } from '../changing/many.ts';
import { takeBack, takeBackMany } from '../changing/take-back.ts';
import {
  deleteView,
  ledgerIds,
  listPeople,
  listViews,
  pageLedger,
  sourcesOf,
  storeView,
} from '../db/ledger.ts';
import { listActEntries, pageLog } from '../db/log.ts';
import type { Services } from '../services.ts';
import { currentPerson, may, subjectAt } from './gate.ts';
import { answer, knownIdOnly, parseRequest } from './respond.ts';

/** The ledger: every tether of every document, and what is done to many at once. */
export function ledgerRoutes(services: Services): Router {
  const { db } = services;
  const router = Router();
  router.param('id', subjectAt(services, 'ledger view'));
  const mayChange = may(services, 'object', 'change');
  router.get('/', async (request, response) => {
    const parsed = parseRequest(response, ledgerPageQuerySchema, request.query);
    if (!parsed) return;
    const { page, ...query } = parsed;
    response.json(await pageLedger(db, query, page, currentPerson(response).id));
  });
  router.post('/act', mayChange, async (request, response) => {
    const body = parseRequest(response, ledgerActSchema, request.body);
    if (body) response.json(await actOnMany(services, currentPerson(response).id, body));
  });
  router.get('/ids', async (request, response) => {
    const query = parseRequest(response, ledgerQuerySchema, request.query);
    if (query) response.json(await ledgerIds(db, query));
  });
  // A look, though it is a POST: so many ids are too large for an address.
  router.post('/sources', may(services, 'object', 'look'), async (request, response) => {
    const body = parseRequest(response, ledgerSourcesSchema, request.body);
    if (body) response.json(await sourcesOf(db, body.ids));
  });
  router.get('/people', async (_request, response) => {
    response.json(await listPeople(db));
  });
  router.get('/views', async (_request, response) => {
    response.json(await listViews(db, currentPerson(response).id));
  });
  router.post('/views', may(services, 'ledger view', 'change'), async (request, response) => {
    const body = parseRequest(response, saveViewSchema, request.body);
    if (body) response.status(201).json(await storeView(db, currentPerson(response).id, body));
  });
  router.delete('/views/:id', may(services, 'ledger view', 'change'), async (request, response) => {
    await deleteView(db, currentPerson(response).id, String(request.params.id));
    response.status(204).end();
  });
  return router;
}

/** Number of the log entry that is asked for; 0, which is none, for what is no number. */
function entryOf(request: Request): number {
  const entry = Number(request.params.entry);
  return Number.isSafeInteger(entry) ? entry : 0;
}

/** The log: what happened, and taking it back. */
export function logRoutes(services: Services): Router {
  const router = Router();
  router.param('act', knownIdOnly);
  const mayChange = may(services, 'log', 'change');
  const mayWrite = may(services, 'source file', 'change');
  router.get('/', async (request, response) => {
    const query = parseRequest(response, logQuerySchema, request.query);
    if (query) response.json(await pageLog(services.db, query));
  });
  router.get('/acts/:act', async (request, response) => {
    response.json(await listActEntries(services.db, request.params.act));
  });
  router.post('/take-back', mayChange, async (request, response) => {
    const body = parseRequest(response, takeBackManySchema, request.body);
    if (!body) return;
    const person = currentPerson(response);
    response.json(await takeBackMany(services, person.id, body.entries));
  });
  router.get('/:entry/slip', async (request, response) => {
    answer(response, await entrySlip(services, entryOf(request)));
  });
  router.post('/:entry/lay-out', mayWrite, async (request, response) => {
    answer(response, await layOut(services, currentPerson(response).id, entryOf(request)));
  });
  router.post('/:entry/take-back', mayChange, async (request, response) => {
    answer(response, await takeBack(services, currentPerson(response).id, entryOf(request)));
  });
  return router;
}
