import { changeTetherSchema, refreshRequestSchema } from '@tether/contract';
import { fail, ok } from '@tether/core';
import { Router } from 'express';
import { findSnapshots } from '../db/snapshots.ts';
import { describeTethers, updateTether } from '../db/tethers.ts';
import { currentPerson } from '../people/gate.ts';
import type { Services } from '../services.ts';
import { pendingSlip, refreshTethers } from '../tethers/refresh.ts';
import { changeReach } from '../tethers/retake.ts';
import { answer, knownIdOnly, parseRequest } from './respond.ts';

/** Tethers of all documents: what needs attention, refreshing, names. */
export function tetherRoutes(services: Services): Router {
  const { db, events } = services;
  const router = Router();
  router.param('id', knownIdOnly);

  router.get('/needs-you', async (_request, response) => {
    response.json(await describeTethers(db, { needAttention: true }));
  });
  router.post('/refresh', async (request, response) => {
    const body = parseRequest(response, refreshRequestSchema, request.body);
    if (!body) return;
    response.json(await refreshTethers(services, currentPerson(response).id, body));
  });
  router.get('/:id/slip', async (request, response) => {
    answer(response, await pendingSlip(services, request.params.id));
  });
  router.patch('/:id', async (request, response) => {
    const body = parseRequest(response, changeTetherSchema, request.body);
    if (!body) return;
    const { id } = request.params;
    if (body.reach) {
      const person = currentPerson(response);
      const changed = await changeReach(services, person.id, id, body.reach);
      if (!changed.ok) {
        answer(response, changed);
        return;
      }
    }
    if (body.name) await updateTether(db, id, { name: body.name });
    const [found] = await describeTethers(db, { ids: [id] });
    if (found) {
      events.publish({ kind: 'tethers', documentId: found.tether.documentId, ids: [id] });
    }
    answer(response, found ? ok(found.tether) : fail('not-found', { what: 'placed object' }));
  });
  return router;
}

/** Snapshots by hash: they never change, so browsers may keep them. */
export function snapshotRoutes({ db }: Services): Router {
  const router = Router();
  router.get('/:hash', async (request, response) => {
    const { hash } = request.params;
    const found = (await findSnapshots(db, [hash])).get(hash);
    if (found) response.setHeader('cache-control', 'private, max-age=31536000, immutable');
    answer(response, found ? ok(found) : fail('not-found', { what: 'snapshot' }));
  });
  return router;
}
