import { existsSync } from 'node:fs';
import { join } from 'node:path';
import { fault } from '@tether/core';
import express, { type Express } from 'express';
import { BODY_LIMITS, jsonBody, rawBody, sameOrigin } from './api/bodies.ts';
import { bundleRoutes, packingRoutes } from './api/bundles.ts';
import { documentRoutes } from './api/documents.ts';
import { folderRoutes } from './api/folders.ts';
import { currentPerson, gate } from './api/gate.ts';
import { ledgerRoutes, logRoutes } from './api/ledger.ts';
import { officeRoutes } from './api/office.ts';
import { outputRoutes } from './api/outputs.ts';
import { signInRoutes } from './api/people.ts';
import { documentPictureRoutes, pictureRoutes } from './api/pictures.ts';
import { onUnexpected, refuse, securityHeaders } from './api/respond.ts';
import { sourceRoutes } from './api/sources.ts';
import { lookRoutes, snapshotRoutes, tetherRoutes } from './api/tethers.ts';
import type { Services } from './services.ts';

/** The whole application as one Express app: the API behind its gate, and the built web application from `webRoot`. */
export function buildApp(services: Services, webRoot: string | null): Express {
  const { db, events } = services;
  const app = express();
  app.disable('x-powered-by');
  app.use(securityHeaders);

  const api = express.Router();
  api.use(sameOrigin);
  api.use(signInRoutes(services));
  api.use(gate(db));
  // Bodies are taken from people who are signed in, and no larger than what they are for.
  api.put('/documents/:id/content', jsonBody(BODY_LIMITS.text));
  api.post('/documents/:id/versions', jsonBody(BODY_LIMITS.text));
  api.post('/documents', jsonBody(BODY_LIMITS.text));
  api.post('/sources/find', jsonBody(BODY_LIMITS.text));
  api.post(
    ['/tethers/refresh', '/tethers/leave', '/ledger/act', '/ledger/sources', '/sources/:id/relink'],
    jsonBody(BODY_LIMITS.many),
  );
  api.post('/documents/:id/pictures', rawBody(BODY_LIMITS.picture));
  api.use(jsonBody(BODY_LIMITS.usual));
  api.get('/me', (_request, response) => {
    response.json(currentPerson(response));
  });
  api.get('/events', (request, response) => {
    events.attach(response, request.get('last-event-id'));
  });
  api.get('/jobs', async (_request, response) => {
    response.json(await services.queue.states());
  });
  api.use('/log', logRoutes(services));
  api.use('/ledger', ledgerRoutes(services));
  api.use('/documents', documentRoutes(services));
  api.use('/documents', outputRoutes(services));
  api.use('/documents', documentPictureRoutes(services));
  api.use('/documents', packingRoutes(services));
  api.use('/bundles', bundleRoutes(services));
  api.use('/office', officeRoutes(services));
  api.use('/pictures', pictureRoutes(services));
  api.use('/looks', lookRoutes(services));
  api.use('/tethers', tetherRoutes(services));
  api.use('/snapshots', snapshotRoutes(services));
  api.use('/sources', sourceRoutes(services));
  api.use('/source-folders', folderRoutes(services));
  api.use((_request, response) => refuse(response, fault('not-found', { what: 'address' })));
  app.use('/api', api);

  if (webRoot && existsSync(webRoot)) {
    // File names below assets carry a hash of their content.
    app.use('/assets', express.static(join(webRoot, 'assets'), { immutable: true, maxAge: '1y' }));
    app.use(express.static(webRoot, { index: false }));
    app.use((_request, response) => {
      response.setHeader('cache-control', 'no-cache');
      response.sendFile(join(webRoot, 'index.html'));
    });
  }
  app.use(onUnexpected);
  return app;
}
