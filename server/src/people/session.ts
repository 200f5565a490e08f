import { createHash, randomBytes } from 'node:crypto';
import type { IncomingMessage } from 'node:http';
import type { Person, SignInRequest } from '@tether/contract';
import { fail, ok, type Result } from '@tether/core';
import { parse, serialize } from 'cookie';
import type { Request, Response } from 'express';
import type { Database } from '../db/database.ts';
import {
  deleteSession,
  findPersonBySignInName,
  findSessionPerson,
  insertSession,
} from '../db/people.ts';
import { checkPassword, isCheckingTooMany } from './password.ts';

const COOKIE = 'tether_session';
const LIFETIME_S = 30 * 24 * 3600;

/** Signs a person in: checks the password, starts a session and sets its cookie. Faults: `sign-in-failed`,
 * `too-many-at-once`. */
export async function signIn(
  db: Database,
  response: Response,
  { signInName, password }: SignInRequest,
): Promise<Result<Person>> {
  if (isCheckingTooMany()) return fail('too-many-at-once');
  const found = await findPersonBySignInName(db, signInName);
  const isRight = await checkPassword(password, found?.passwordHash ?? null);
  if (!found || !isRight) return fail('sign-in-failed');
  const token = randomBytes(32).toString('base64url');
  await insertSession(db, {
    tokenHash: hashToken(token),
    personId: found.id,
    expiresAt: new Date(Date.now() + LIFETIME_S * 1000),
  });
  setCookie(response, token, LIFETIME_S);
  const { passwordHash: _, ...person } = found;
  return ok(person);
}

/** Ends the session of the request. */
export async function signOut(db: Database, request: Request, response: Response): Promise<void> {
  const token = tokenOf(request);
  if (token) await deleteSession(db, hashToken(token));
  setCookie(response, '', 0);
}

/** The person whose session the request carries, or null. */
export async function personOf(
  db: Database,
  request: Pick<IncomingMessage, 'headers'>,
): Promise<Person | null> {
  const token = tokenOf(request);
  return token ? findSessionPerson(db, hashToken(token)) : null;
}

function tokenOf(request: Pick<IncomingMessage, 'headers'>): string | undefined {
  return parse(request.headers.cookie ?? '')[COOKIE];
}

function hashToken(token: string): string {
  return createHash('sha256').update(token).digest('hex');
}

function setCookie(response: Response, token: string, maxAge: number): void {
  response.setHeader(
    'set-cookie',
    // Strict: no other site can make the browser send it, so that no request of theirs is ever signed in.
    serialize(COOKIE, token, { httpOnly: true, sameSite: 'strict', path: '/', maxAge }),
  );
}
