import { signInRequestSchema } from '@tether/contract';
import { DEMO_PASSWORD, DEMO_PEOPLE } from '@tether/demo';
import { Router } from 'express';
import { signIn, signOut } from '../people/session.ts';
import type { Services } from '../services.ts';
import { BODY_LIMITS, jsonBody } from './bodies.ts';
import { answer, parseRequest } from './respond.ts';

/** Routes in front of the gate: signing in and out. */
export function signInRoutes({ db, hasDemo }: Services): Router {
  const router = Router();
  router.get('/demo-people', (_request, response) => {
    response.json(
      hasDemo
        ? DEMO_PEOPLE.map(({ role: _, ...person }) => ({ ...person, password: DEMO_PASSWORD }))
        : [],
    );
  });
  router.use(['/sign-in', '/sign-out'], jsonBody(BODY_LIMITS.stranger));
  router.post('/sign-in', async (request, response) => {
    const body = parseRequest(response, signInRequestSchema, request.body);
    if (body) answer(response, await signIn(db, response, body));
  });
  router.post('/sign-out', async (request, response) => {
    await signOut(db, request, response);
    response.status(204).end();
  });
  return router;
}
