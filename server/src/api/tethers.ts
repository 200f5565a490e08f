import {
  can,
  changeTetherSchema,
  compareQuerySchema,
  decideSchema,
  editRequestSchema,
  frozenSchema,
  goBackSchema,
  leaveRequestSchema,
  lookedAtSchema,
  mooredSchema,
  needsQuerySchema,
  refreshRequestSchema,
  unlockSchema,
  writeBackSchema,
  writesAtOnceSchema,
} from '@tether/contract';
import { fail, fault, ok } from '@tether/core';
import { type Response, Router } from 'express';
import {
  decideEdit,
  editCells,
  seeEdits,
  setWritesAtOnce,
  unlock,
  writeEdits,
} from '../changing/edit-cells.ts';
import { followAgain } from '../changing/follow-again.ts';
import { goBack } from '../changing/history.ts';
import { setMoored } from '../changing/moorings.ts';
import { leaveTethers, pendingSlip, refreshTethers } from '../changing/refresh.ts';
import { letStay } from '../changing/stays.ts';
import { doStep } from '../changing/step.ts';
import { STEPS } from '../changing/steps/registry.ts';
import { refreshOnOpening } from '../changing/timetable.ts';
import { beginLooks, listStates, recordLooks } from '../db/history.ts';
import { describeTethers, findTethers, pageNeeds } from '../db/tethers.ts';
import { announceTethers } from '../following/follow.ts';
import { changeReach } from '../placing/change-reach.ts';
import type { Services } from '../services.ts';
import { lookNow } from '../sources/look.ts';
import { currentPerson, may, subjectAt } from './gate.ts';
import { answer, parseRequest, refuse } from './respond.ts';

/** Tethers of all documents: what needs attention, refreshing, names. */
// biome-ignore lint/complexity/noExcessiveLinesPerFunction: one route after the other
export function tetherRoutes(services: Services): Router {
  const { db } = services;
  const router = Router();
  router.param('id', subjectAt(services, 'object'));
  const mayChange = may(services, 'object', 'change');
  const mayWrite = may(services, 'source file', 'change');

  router.get('/needs-you', async (request, response) => {
    const query = parseRequest(response, needsQuerySchema, request.query);
    if (query) response.json(await pageNeeds(db, query.page, currentPerson(response).id));
  });
  // Reads its source anew, for somebody who has mended what put it adrift.
  router.post('/:id/look', mayChange, async (request, response) => {
    const [row] = await findTethers(db, [request.params.id]);
    if (row) await lookNow(services, row.sourceId, { isForced: true });
    answer(response, row ? ok(null) : fail('not-found', { what: 'placed object' }));
  });
  router.post('/refresh', mayChange, async (request, response) => {
    const body = parseRequest(response, refreshRequestSchema, request.body);
    if (!body) return;
    response.json(await refreshTethers(services, currentPerson(response).id, body));
  });
  router.post('/leave', mayChange, async (request, response) => {
    const body = parseRequest(response, leaveRequestSchema, request.body);
    if (body) response.json(await leaveTethers(services, currentPerson(response).id, body));
  });
  router.get('/compare', async (request, response) => {
    const query = parseRequest(response, compareQuerySchema, request.query);
    if (query) answer(response, await services.comparer.slip(db, query.from, query.to));
  });
  router.get('/:id/slip', async (request, response) => {
    answer(response, await pendingSlip(services, request.params.id));
  });
  router.get('/:id/history', async (request, response) => {
    response.json(await listStates(db, request.params.id));
  });
  router.post('/:id/go-back', mayChange, async (request, response) => {
    const body = parseRequest(response, goBackSchema, request.body);
    if (!body) return;
    const person = currentPerson(response);
    answer(response, await goBack(services, person.id, request.params.id, body.state));
  });
  // It is not kept where it is any more: neither left nor gone back.
  router.post('/:id/follow', mayChange, async (request, response) => {
    await followAgain(services, currentPerson(response).id, [request.params.id]);
    answer(response, ok(null));
  });
  router.post('/:id/stays', mayChange, async (request, response) => {
    answer(response, await letStay(services, currentPerson(response).id, request.params.id));
  });
  // It changes the document and its source: who moors must have the right to both.
  router.put('/:id/mooring', mayChange, mayWrite, async (request, response) => {
    const body = parseRequest(response, mooredSchema, request.body);
    if (!body) return;
    const { id } = request.params;
    const { id: personId } = currentPerson(response);
    const done = await setMoored(services, personId, id, body.isMoored);
    if (!done.ok) return answer(response, done);
    await answerTether(response, id);
  });
  router.put('/:id/frozen', mayChange, async (request, response) => {
    const body = parseRequest(response, frozenSchema, request.body);
    if (!body) return;
    const person = currentPerson(response);
    const { id } = request.params;
    const wish = { ids: [id], isFrozen: body.isFrozen };
    const done = await doStep(services, STEPS.freeze, wish, { personId: person.id });
    const [refused] = done.ok ? done.value.refused : [];
    if (refused) {
      answer(response, { ok: false, fault: refused.fault });
      return;
    }
    await answerTether(response, id);
  });
  router.put('/:id/unlocked', mayChange, async (request, response) => {
    const body = parseRequest(response, unlockSchema, request.body);
    if (!body) return;
    const { id } = request.params;
    const done = await unlock(services, currentPerson(response).id, id, body.unlocked);
    if (done.ok) await answerTether(response, id);
    else answer(response, done);
  });
  // It writes into a source without anybody looking at a plan: that is for its owner to say.
  const mayLetWrite = may(services, 'source folder', 'change');
  router.put('/:id/writes-at-once', mayLetWrite, async (request, response) => {
    const body = parseRequest(response, writesAtOnceSchema, request.body);
    if (!body) return;
    const { id } = request.params;
    const person = currentPerson(response);
    const done = await setWritesAtOnce(services, person.id, id, body.writesAtOnce);
    if (done.ok) await answerTether(response, id);
    else answer(response, done);
  });
  router.get('/:id/edits', async (request, response) => {
    answer(response, await seeEdits(services, request.params.id));
  });
  router.post('/:id/edits', mayChange, async (request, response) => {
    const body = parseRequest(response, editRequestSchema, request.body);
    if (!body) return;
    const { id } = request.params;
    const done = await editCells(services, currentPerson(response).id, id, body);
    if (done.ok) await answerTether(response, id);
    else answer(response, done);
  });
  router.post('/:id/edits/decide', mayChange, async (request, response) => {
    const body = parseRequest(response, decideSchema, request.body);
    if (!body) return;
    const { id } = request.params;
    const person = currentPerson(response);
    answer(response, await decideEdit(services, person.id, id, body.edit, body.decision));
  });
  // It changes the document and the source: who writes must have the right to both.
  router.post('/:id/write-back', mayChange, mayWrite, async (request, response) => {
    const body = parseRequest(response, writeBackSchema, request.body);
    if (!body) return;
    const person = currentPerson(response);
    answer(response, await writeEdits(services, person.id, request.params.id, body.token));
  });
  router.patch('/:id', mayChange, async (request, response) => {
    const body = parseRequest(response, changeTetherSchema, request.body);
    if (!body) return;
    const { id } = request.params;
    const person = currentPerson(response);
    if (body.reach) {
      const changed = await changeReach(services, person.id, id, body.reach);
      if (!changed.ok) {
        answer(response, changed);
        return;
      }
    }
    const by = { personId: person.id };
    const { mode, name } = body;
    if (mode !== undefined) {
      await doStep(services, STEPS.mode, { of: 'object', ids: [id], mode }, by);
    }
    if (name) await doStep(services, STEPS.name, { of: 'object', id, name }, by);
    const found = await answerTether(response, id);
    if (found) await announceTethers(db, [found]);
  });

  async function answerTether(response: Response, id: string) {
    const [found] = await describeTethers(db, { ids: [id] }, currentPerson(response).id);
    answer(response, found ? ok(found.tether) : fail('not-found', { what: 'placed object' }));
    return found?.tether;
  }
  return router;
}

/** Snapshots by hash: they never change, so browsers may keep them. */
export function snapshotRoutes({ db, comparer }: Services): Router {
  const router = Router();
  router.get('/:hash', async (request, response) => {
    const json = await comparer.json(db, request.params.hash);
    if (json === null) return refuse(response, fault('not-found', { what: 'snapshot' }));
    response.setHeader('cache-control', 'private, max-age=31536000, immutable');
    response.type('json').send(json);
  });
  return router;
}

/**
 * What a person has seen: recorded for them alone, so that it is no change of anything. Opening a document counts what
 * they never looked at as looked at, and refreshes what is to be refreshed on opening.
 */
export function lookRoutes(services: Services): Router {
  const { db } = services;
  const router = Router();
  router.param('id', subjectAt(services, 'document'));
  router.post('/opened/:id', async (request, response) => {
    const person = currentPerson(response);
    const { id } = request.params;
    await beginLooks(db, person.id, id);
    // Who may only look changes nothing by opening.
    const refreshed = can(person, 'change', { kind: 'document', id })
      ? await refreshOnOpening(services, person.id, id)
      : 0;
    response.json({ refreshed });
  });
  router.post('/looked-at', async (request, response) => {
    const body = parseRequest(response, lookedAtSchema, request.body);
    if (!body) return;
    await recordLooks(db, currentPerson(response).id, body.tethers);
    response.status(204).end();
  });
  return router;
}
