import {
  addFolderSchema,
  browseSchema,
  changeFolderSchema,
  elsewhereSchema,
  uploadSchema,
} from '@tether/contract';
import { Router } from 'express';
import type { Services } from '../services.ts';
import {
  addFolder,
  browsePlaces,
  changeFolder,
  putFile,
  removeFolder,
  seeElsewhere,
} from '../sources/folders.ts';
import { currentPerson, may, subjectAt } from './gate.ts';
import { answer, parseRequest } from './respond.ts';

/** Which folders of the server are sources, and what is put into them. */
export function folderRoutes(services: Services): Router {
  const router = Router();
  router.param('id', subjectAt(services, 'source folder'));
  const mayChange = may(services, 'source folder', 'change');
  router.get('/places', mayChange, async (request, response) => {
    const query = parseRequest(response, browseSchema, request.query);
    if (query) answer(response, await browsePlaces(services, query.path || undefined));
  });
  router.post('/', mayChange, async (request, response) => {
    const body = parseRequest(response, addFolderSchema, request.body);
    if (body) answer(response, await addFolder(services, currentPerson(response).id, body), 201);
  });
  router.get('/:id/elsewhere', mayChange, async (request, response) => {
    const query = parseRequest(response, elsewhereSchema, request.query);
    if (!query) return;
    answer(response, await seeElsewhere(services, String(request.params.id), query.path));
  });
  router.patch('/:id', mayChange, async (request, response) => {
    const body = parseRequest(response, changeFolderSchema, request.body);
    if (!body) return;
    const { id } = currentPerson(response);
    answer(response, await changeFolder(services, id, String(request.params.id), body));
  });
  router.delete('/:id', mayChange, async (request, response) => {
    answer(
      response,
      await removeFolder(services, currentPerson(response).id, String(request.params.id)),
    );
  });
  // The file is the body, as it is: it may be far larger than what is parsed elsewhere.
  router.put('/:id/files', may(services, 'source file', 'change'), async (request, response) => {
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
