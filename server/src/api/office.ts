import { type OfficeSeen, officeActSchema } from '@tether/contract';
import { fail, fault, ok } from '@tether/core';
import { ACTS, act, countKept, listOffice, type Office, undo } from '@tether/demo';
import { Router } from 'express';
import type { Services } from '../services.ts';
import { reasonOf } from '../tell.ts';
import { may } from './gate.ts';
import { answer, parseRequest, refuse } from './respond.ts';

/** The stand-in office: what colleagues and drives do to the files of the demo, done here by hand. */
export function officeRoutes(services: Services): Router {
  const router = Router();
  const mayWrite = may(services, 'source file', 'change');
  const { office } = services;
  if (!office) return router;
  router.get('/', mayWrite, async (_request, response) => {
    response.json(await seen(office));
  });
  router.post('/', mayWrite, async (request, response) => {
    const body = parseRequest(response, officeActSchema, request.body);
    if (!body) return;
    try {
      await act(office, body.name, body.words);
      answer(response, ok(await seen(office)));
    } catch (error) {
      refuse(response, fault('office-not-done', { why: reasonOf(error) }));
    }
  });
  router.post('/undo', mayWrite, async (_request, response) => {
    const isUndone = await undo(office);
    answer(
      response,
      isUndone
        ? ok(await seen(office))
        : fail('office-not-done', { why: 'there is nothing to undo.' }),
    );
  });
  return router;
}

async function seen(office: Office): Promise<OfficeSeen> {
  return {
    acts: Object.entries(ACTS).map(([name, { says, asks }]) => ({ name, says, asks })),
    ...(await listOffice(office)),
    done: await countKept(office),
  };
}
