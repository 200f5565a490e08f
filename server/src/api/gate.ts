import { mayChange, type Person } from '@tether/contract';
import { fault } from '@tether/core';
import type { NextFunction, Request, RequestHandler, Response } from 'express';
import type { Database } from '../db/database.ts';
import { ownerNames } from '../db/people.ts';
import { personOf } from '../people/session.ts';
import { refuse } from './respond.ts';

/** What a request wants to do. */
type Act = 'look' | 'change';

/**
 * The one gate of the API: nobody passes who is not signed in, and each request's act is checked against the person's
 * rights here and nowhere else. Requests that only read are looks, all others but `/looks` change something.
 */
export function gate(db: Database): RequestHandler {
  return async (request: Request, response: Response, next: NextFunction) => {
    const person = await personOf(db, request);
    if (!person) return refuse(response, fault('not-signed-in'));
    const act: Act = isLook(request) ? 'look' : 'change';
    if (!isAllowed(person, act)) {
      const who = (await ownerNames(db)).join(' or ') || 'the owner';
      return refuse(response, fault('not-allowed', { who }));
    }
    response.locals.person = person;
    next();
  };
}

/** Reading is a look, and so is saying what one has looked at: that changes nothing for anybody else. */
function isLook({ method, path }: Request): boolean {
  return ['GET', 'HEAD'].includes(method) || path.startsWith('/looks/');
}

function isAllowed(person: Person, act: Act): boolean {
  return act === 'look' || mayChange(person.role);
}

/** The person the gate let through. */
export function currentPerson(response: Response): Person {
  return response.locals.person as Person;
}
