import { type Fault, type FaultCode, fault, type Result } from '@tether/core';
import type { NextFunction, Request, RequestHandler, RequestParamHandler, Response } from 'express';
import { z } from 'zod';
import { tell } from '../tell.ts';

const STATUS: Partial<Record<FaultCode, number>> = {
  'not-signed-in': 401,
  'sign-in-failed': 401,
  'not-allowed': 403,
  'origin-not-allowed': 403,
  'too-many-at-once': 429,
  'not-found': 404,
  'document-deleted': 404,
  'request-malformed': 400,
  'document-saved-elsewhere': 409,
  'slip-out-of-date': 409,
  unexpected: 500,
};

/** Answers with a fault. */
export function refuse(response: Response, reason: Fault): void {
  response.status(STATUS[reason.code] ?? 422).json({ fault: reason });
}

/** Answers with the value of a result, or its fault. */
export function answer<T>(response: Response, result: Result<T>, status = 200): void {
  if (result.ok) response.status(status).json(result.value);
  else refuse(response, result.fault);
}

/** Parses what came with a request at the door; answers `request-malformed` itself and gives null when it is wrong. */
export function parseRequest<T>(
  response: Response,
  schema: z.ZodType<T>,
  input: unknown,
): T | null {
  const parsed = schema.safeParse(input);
  if (parsed.success) return parsed.data;
  const [issue] = parsed.error.issues;
  const at = issue?.path.join('.') || 'the request';
  refuse(response, fault('request-malformed', { detail: `${at}: ${issue?.message ?? 'wrong'}` }));
  return null;
}

/** For `router.param('id', …)`: an id that can be none is not found, before the database is asked. */
export const knownIdOnly: RequestParamHandler = (_request, response, next, id) => {
  if (z.uuid().safeParse(id).success) next();
  else refuse(response, fault('not-found', { what: 'id' }));
};

/** The last handler: what nobody expected is told in a sentence, and in full to the server's own log. */
export function onUnexpected(
  error: Error & { status?: number; type?: string },
  request: Request,
  response: Response,
  next: NextFunction,
): void {
  if (response.headersSent) {
    next(error);
    return;
  }
  if (error.status === 413) {
    refuse(response, fault('request-malformed', { detail: 'it is larger than is taken here' }));
    return;
  }
  if (error.status !== undefined && error.status < 500) {
    refuse(response, fault('request-malformed', { detail: error.message.slice(0, 200) }));
    return;
  }
  tell(`Answering ${request.method} ${request.path}`, error);
  refuse(response, fault('unexpected', { detail: 'the server could not do this' }));
}

/** No other site may frame the application, and nothing but its own files is loaded. */
export const securityHeaders: RequestHandler = (_request, response, next) => {
  response.setHeader(
    'content-security-policy',
    "default-src 'self'; style-src 'self' 'unsafe-inline'; img-src 'self' data: blob:; font-src 'self' data:; frame-ancestors 'none'",
  );
  response.setHeader('x-content-type-options', 'nosniff');
  response.setHeader('referrer-policy', 'same-origin');
  next();
};
