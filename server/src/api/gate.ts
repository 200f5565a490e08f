import type { Act, Person, Subject } from '@tether/contract';
import { fault } from '@tether/core';
import type { NextFunction, Request, RequestHandler, RequestParamHandler, Response } from 'express';
import { z } from 'zod';
import type { Database } from '../db/database.ts';
import { reasonAgainst } from '../people/rights.ts';
import { personOf } from '../people/session.ts';
import type { Services } from '../services.ts';
import { refuse } from './respond.ts';

/** The one gate of the API: nobody passes who is not signed in. What they may do, routes ask of each subject. */
export function gate(db: Database): RequestHandler {
  return async (request, response, next) => {
    const person = await personOf(db, request);
    if (!person) return refuse(response, fault('not-signed-in'));
    response.locals.person = person;
    next();
  };
}

/** The person the gate let through. */
export function currentPerson(response: Response): Person {
  return response.locals.person as Person;
}

/**
 * For `router.param('id', …)`: what is named in an address. An id that can be none is not found, before the database is
 * asked; whoever may not look at the subject gets no further.
 */
export function subjectAt(
  { db }: Pick<Services, 'db'>,
  kind: Subject['kind'],
): RequestParamHandler {
  return async (_request, response, next, id) => {
    if (!z.uuid().safeParse(id).success)
      return refuse(response, fault('not-found', { what: 'id' }));
    const reason = await reasonAgainst(db, currentPerson(response), 'look', { kind, id });
    if (reason) refuse(response, reason);
    else next();
  };
}

/** In front of a route: only whoever may do this to the subject that the address names, or to any such subject. */
export function may(
  { db }: Pick<Services, 'db'>,
  kind: Subject['kind'],
  act: Act,
): <Params>(request: Request<Params>, response: Response, next: NextFunction) => Promise<void> {
  return async function asksRight(request, response, next) {
    const { id } = request.params as { id?: string };
    const subject = { kind, ...(id === undefined ? {} : { id }) };
    const reason = await reasonAgainst(db, currentPerson(response), act, subject);
    if (reason) refuse(response, reason);
    else next();
  };
}
