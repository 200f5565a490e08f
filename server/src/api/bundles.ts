import { pipeline } from 'node:stream/promises';
import { bundleNameSchema, openBundleSchema } from '@tether/contract';
import { Router } from 'express';
import { withArrived } from '../documents/bundle/arrive.ts';
import { openBundle, seeBundle } from '../documents/bundle/open.ts';
import { packBundle, seePacking } from '../documents/bundle/pack.ts';
import type { Services } from '../services.ts';
import { currentPerson, may, subjectAt } from './gate.ts';
import { answer, parseRequest, refuse } from './respond.ts';

/** Documents that leave together with copies of their sources. */
export function packingRoutes(services: Services): Router {
  const router = Router();
  router.param('id', subjectAt(services, 'document'));
  router.get('/:id/bundle/contents', async (request, response) => {
    answer(response, await seePacking(services, request.params.id));
  });
  router.get('/:id/bundle', async (request, response) => {
    const packed = await packBundle(services, request.params.id);
    if (!packed.ok) return refuse(response, packed.fault);
    const { name, bytes } = packed.value;
    response.setHeader('content-type', 'application/zip');
    response.attachment(`${name}.bundle.zip`);
    // Who goes away gets no more: what waits on the disk for them is cleared away.
    await pipeline(bytes, response).catch(() => response.destroy());
  });
  return router;
}

/** Bundles that arrive. The file is the body, as it is. */
export function bundleRoutes(services: Services): Router {
  const router = Router();
  const mayMake = may(services, 'document', 'change');
  const mayPut = may(services, 'source file', 'change');
  // A look, though it is a POST: nothing is kept of it.
  router.post('/look', mayMake, async (request, response) => {
    const query = parseRequest(response, bundleNameSchema, request.query);
    if (!query) return;
    answer(
      response,
      await withArrived(request, query.file, (arrived) => seeBundle(services, arrived)),
    );
  });
  router.post('/', mayMake, mayPut, async (request, response) => {
    const query = parseRequest(
      response,
      openBundleSchema.extend(bundleNameSchema.shape),
      request.query,
    );
    if (!query) return;
    const open = withArrived(request, query.file, (arrived) =>
      openBundle(services, currentPerson(response), arrived, query),
    );
    answer(response, await open, 201);
  });
  return router;
}
