import {
  carrySchema,
  changeDocumentSchema,
  createDocumentSchema,
  holdSchema,
  keepVersionSchema,
  placeRequestSchema,
  saveDocumentSchema,
  writeAllSchema,
} from '@tether/contract';
import { fail, ok } from '@tether/core';
import { Router } from 'express';
import { doStep } from '../changing/step.ts';
import { STEPS } from '../changing/steps/registry.ts';
import { seeDocumentEdits, writeDocument } from '../changing/write-document.ts';
import { findDeleted, findDocument, listDocuments } from '../db/documents.ts';
import { describeTethers } from '../db/tethers.ts';
import { findVersion, listVersions } from '../db/versions.ts';
import { carryForward, seeCarry } from '../documents/carry-forward.ts';
import { createDocument, duplicateDocument, saveDocument } from '../documents/save.ts';
import { keepVersion } from '../documents/versions.ts';
import { writeOutDocument } from '../documents/write-out.ts';
import { announce } from '../events/announce.ts';
import { placeTether } from '../placing/place.ts';
import type { Services } from '../services.ts';
import { currentPerson, may, subjectAt } from './gate.ts';
import { answer, knownIdOnly, parseRequest } from './respond.ts';

/** Documents, their text and their objects. */
// biome-ignore lint/complexity/noExcessiveLinesPerFunction: one route after the other
export function documentRoutes(services: Services): Router {
  const { db } = services;
  const router = Router();
  router.param('id', subjectAt(services, 'document'));
  router.param('version', knownIdOnly);
  const mayChange = may(services, 'document', 'change');
  const mayWrite = may(services, 'source file', 'change');

  router.get('/', async (_request, response) => {
    response.json(await listDocuments(db));
  });
  router.post('/', mayChange, async (request, response) => {
    const body = parseRequest(response, createDocumentSchema, request.body);
    if (!body) return;
    const made = await createDocument(services, currentPerson(response), body);
    answer(response, made.ok ? ok(await findDocument(db, made.value)) : made, 201);
  });
  router.get('/:id', async (request, response) => {
    // What was written a moment ago is in it.
    await writeOutDocument(db, request.params.id);
    const found = await findDocument(db, request.params.id);
    const deleted = found ? null : await findDeleted(db, request.params.id);
    if (deleted !== null) answer(response, fail('document-deleted', { name: deleted }));
    else answer(response, found ? ok(found) : fail('not-found', { what: 'document' }));
  });
  router.patch('/:id', mayChange, async (request, response) => {
    const body = parseRequest(response, changeDocumentSchema, request.body);
    if (!body) return;
    const { id } = request.params;
    const person = currentPerson(response);
    const by = { personId: person.id };
    const { name, mode, share } = body;
    if (name !== undefined) await doStep(services, STEPS.name, { of: 'document', id, name }, by);
    if (mode !== undefined) await doStep(services, STEPS.mode, { of: 'document', id, mode }, by);
    if (share !== undefined) await doStep(services, STEPS.share, { documentId: id, share }, by);
    const found = await findDocument(db, id);
    if (found) {
      const event = { kind: 'document' as const, documentId: id, version: found.version };
      await announce(db, { ...event, by: person.name });
    }
    answer(response, found ? ok(found) : fail('not-found', { what: 'document' }));
  });
  router.delete('/:id', mayChange, async (request, response) => {
    const by = { personId: currentPerson(response).id };
    const wish = { documentId: request.params.id, isDeleted: true };
    const done = await doStep(services, STEPS.deletion, wish, by);
    answer(response, done.ok ? ok(null) : done);
  });
  router.post('/:id/copies', mayChange, async (request, response) => {
    const made = await duplicateDocument(services, currentPerson(response), request.params.id);
    answer(response, made.ok ? ok(await findDocument(db, made.value)) : made, 201);
  });
  router.get('/:id/carry-forward', async (request, response) => {
    answer(response, await seeCarry(services, request.params.id));
  });
  router.post('/:id/carry-forward', mayChange, async (request, response) => {
    const body = parseRequest(response, carrySchema, request.body);
    if (!body) return;
    const person = currentPerson(response);
    answer(response, await carryForward(services, person, request.params.id, body), 201);
  });
  router.put('/:id/hold', mayChange, async (request, response) => {
    const body = parseRequest(response, holdSchema, request.body);
    if (!body) return;
    const { id } = request.params;
    const wish = { documentIds: [id], isHeld: body.isHeld };
    await doStep(services, STEPS.hold, wish, { personId: currentPerson(response).id });
    const found = await findDocument(db, id);
    if (found) {
      const event = { kind: 'document' as const, documentId: id, version: found.version };
      await announce(db, { ...event, by: currentPerson(response).name });
    }
    answer(response, found ? ok(found) : fail('not-found', { what: 'document' }));
  });
  router.put('/:id/content', mayChange, async (request, response) => {
    const body = parseRequest(response, saveDocumentSchema, request.body);
    if (!body) return;
    const person = currentPerson(response);
    answer(response, await saveDocument(services, person, request.params.id, body));
  });
  router.get('/:id/versions', async (request, response) => {
    response.json(await listVersions(db, request.params.id));
  });
  router.post('/:id/versions', mayChange, async (request, response) => {
    const body = parseRequest(response, keepVersionSchema, request.body);
    if (!body) return;
    const { id } = request.params;
    answer(response, await keepVersion(services, currentPerson(response).id, id, body), 201);
  });
  router.get('/:id/versions/:version', async (request, response) => {
    const found = await findVersion(db, request.params.id, request.params.version);
    answer(response, found ? ok(found) : fail('not-found', { what: 'version' }));
  });
  router.get('/:id/edits', async (request, response) => {
    response.json(await seeDocumentEdits(services, request.params.id));
  });
  // It changes the document and its sources: who writes must have the right to both.
  router.post('/:id/write-back', mayChange, mayWrite, async (request, response) => {
    const body = parseRequest(response, writeAllSchema, request.body);
    if (!body) return;
    const person = currentPerson(response);
    response.json(await writeDocument(services, person.id, request.params.id, body));
  });
  router.get('/:id/tethers', async (request, response) => {
    const person = currentPerson(response);
    const described = await describeTethers(db, { documentId: request.params.id }, person.id);
    response.json(described.map(({ tether }) => tether));
  });
  router.post('/:id/tethers', mayChange, async (request, response) => {
    const body = parseRequest(response, placeRequestSchema, request.body);
    if (!body) return;
    const person = currentPerson(response);
    answer(response, await placeTether(services, person.id, request.params.id, body), 201);
  });
  return router;
}
