import { fault } from '@tether/core';
import express, {
  type NextFunction,
  type Request,
  type RequestHandler,
  type Response,
} from 'express';
import { boundsFault } from '../storage/json-bounds.ts';
import { refuse } from './respond.ts';

/** Bytes of bodies that are taken in at the same time, over all people; what comes beyond waits its turn. */
const BYTES_AT_ONCE = 32 << 20;
/** How long a body may take to arrive. */
const ARRIVES_WITHIN_MS = 60_000;

/** How large the body of a route may be. */
export const BODY_LIMITS = {
  /** Before somebody is signed in. */
  stranger: 4 << 10,
  usual: 256 << 10,
  /** Choices over many objects. */
  many: 4 << 20,
  /** A whole text, or pasted cells. */
  text: 12 << 20,
  picture: 20 << 20,
} as const;

/**
 * Takes JSON bodies of at most `limit` bytes. How deep and how many is counted before anything is built of them, so that a
 * small body cannot become a large one.
 */
export function jsonBody(limit: number): RequestHandler {
  return inTurn(
    limit,
    express.json({ limit, verify: (_request, _response, bytes) => measure(bytes) }),
  );
}

/** Takes bodies of any kind as they are, of at most `limit` bytes. */
export function rawBody(limit: number): RequestHandler {
  return inTurn(limit, express.raw({ limit, type: () => true }));
}

/** Takes bodies in with `parse`, large ones one after the other. */
function inTurn(limit: number, parse: RequestHandler): RequestHandler {
  return (request, response, next) => {
    // A route with a limit of its own has taken the body: whoever holds one must never wait for those who wait for room.
    if (request.body !== undefined) return next();
    const announced = Number(request.headers['content-length'] ?? limit);
    // Who announces too much is refused at once, without waiting for others.
    const size = announced > limit ? 0 : announced;
    const take = () => {
      const timer = setTimeout(() => request.destroy(), ARRIVES_WITHIN_MS);
      parse(request, response, (problem?: unknown) => {
        clearTimeout(timer);
        next(problem as Error | undefined);
      });
    };
    // Only large bodies wait: what everybody sends all the time is bounded by its own limit.
    if (size <= BODY_LIMITS.usual) take();
    else turns.take(size, request, response, take);
  };
}

/** Lets bodies in one after the other where they are too many to be held at once. */
class Turns {
  private held = 0;
  private readonly waiting: { size: number; go: () => void }[] = [];

  take(size: number, request: Request, response: Response, go: () => void): void {
    const entry = {
      size,
      go: () => {
        // Who went away while it was looked up who they are has nothing to be taken in, and would never say that they went.
        if (request.destroyed || response.destroyed || response.closed) return;
        this.held += size;
        // The body is needed until the answer is on its way, or nobody waits for it any more.
        let isHeld = true;
        const release = () => {
          if (!isHeld) return;
          isHeld = false;
          clearTimeout(latest);
          this.held -= size;
          this.letIn();
        };
        const latest = setTimeout(release, 2 * ARRIVES_WITHIN_MS).unref();
        response.once('close', release);
        go();
      },
    };
    this.waiting.push(entry);
    request.once('close', () => {
      const at = this.waiting.indexOf(entry);
      if (at >= 0) this.waiting.splice(at, 1);
    });
    this.letIn();
  }

  private letIn(): void {
    for (;;) {
      const [first] = this.waiting;
      if (!first || (this.held > 0 && this.held + first.size > BYTES_AT_ONCE)) return;
      this.waiting.shift();
      first.go();
    }
  }
}
const turns = new Turns();

/** A body that is not taken, as the body parser tells it. */
class Refused extends Error {
  readonly status = 400;
}

function measure(bytes: Uint8Array): void {
  const odd = boundsFault(bytes);
  if (odd !== null) throw new Refused(odd);
}

/** Refuses what another page sends in somebody's name, also one of another port of the same host. */
export function sameOrigin(request: Request, response: Response, next: NextFunction): void {
  const isChange = !['GET', 'HEAD', 'OPTIONS'].includes(request.method);
  const { origin, host } = request.headers;
  const site = request.headers['sec-fetch-site'];
  const isOwn =
    origin === undefined
      ? // Programs that are no browser say neither.
        site === undefined || site === 'same-origin' || site === 'none'
      : hostOf(origin) === host || OWN_ORIGINS.has(origin);
  if (isOwn || !isChange) next();
  else refuse(response, fault('origin-not-allowed', { origin: origin ?? 'another page' }));
}

/** Addresses under which the product is reached where something before it changes the host (TETHER_ORIGINS, spaces between). */
const OWN_ORIGINS = new Set((process.env.TETHER_ORIGINS ?? '').split(/\s+/).filter(Boolean));

function hostOf(origin: string): string | null {
  try {
    return new URL(origin).host;
  } catch {
    return null;
  }
}
