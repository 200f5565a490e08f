import {
  addFolderSchema,
  browseSchema,
  mayManageFolders,
  renameFolderSchema,
  uploadSchema,
} from '@tether/contract';
import { fault } from '@tether/core';
import { type RequestHandler, Router } from 'express';
import { ownerNames } from '../db/people.ts';
import type { Services } from '../services.ts';
import {
  addFolder,
  browsePlaces,
  changeFolderName,
  putFile,
  removeFolder,
} from '../sources/folders.ts';
import { currentPerson } from './gate.ts';
import { answer, knownIdOnly, parseRequest, refuse } from './respond.ts';

/** Which folders of the server are sources, and what is put into them. */
export function folderRoutes(services: Services): Router {
  const router = Router();
  router.param('id', knownIdOnly);
  const ownersOnly: RequestHandler = async (_request, response, next) => {
    if (mayManageFolders(currentPerson(response).role)) return next();
    const who = (await ownerNames(services.db)).join(' or ') || 'the owner';
    refuse(response, fault('not-allowed', { who }));
  };
  router.get('/places', ownersOnly, async (request, response) => {
    const query = parseRequest(response, browseSchema, request.query);
    if (query) answer(response, await browsePlaces(services, query.path || undefined));
  });
  router.post('/', ownersOnly, async (request, response) => {
    const body = parseRequest(response, addFolderSchema, request.body);
    if (body) answer(response, await addFolder(services, currentPerson(response).id, body), 201);
  });
  router.patch('/:id', ownersOnly, async (request, response) => {
    const body = parseRequest(response, renameFolderSchema, request.body);
    if (body)
      answer(
        response,
        await changeFolderName(
          services,
          currentPerson(response).id,
          String(request.params.id),
          body.name,
        ),
      );
  });
  router.delete('/:id', ownersOnly, async (request, response) => {
    answer(
      response,
      await removeFolder(services, currentPerson(response).id, String(request.params.id)),
    );
  });
  // The file is the body, as it is: it may be far larger than what is parsed elsewhere.
  router.put('/:id/files', async (request, response) => {
    const query = parseRequest(response, uploadSchema, request.query);
    if (query)
      answer(
        response,
        await putFile(
          services,
          currentPerson(response).id,
          String(request.params.id),
          query.name,
          request,
          Number(request.get('content-length') ?? Number.NaN),
        ),
        201,
      );
  });
  return router;
}
