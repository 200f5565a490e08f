import type { KeptPicture, PictureLayer } from '@tether/contract';
import { fault, ok } from '@tether/core';
import {
  drawingLayers,
  inGrey,
  isLinesOnly,
  readPicture,
  saysItsSize,
  withoutLayers,
} from '@tether/formats';
import { Router } from 'express';
import { findPicture, keepPicture } from '../db/pictures.ts';
import type { Services } from '../services.ts';
import { may, subjectAt } from './gate.ts';
import { answer, refuse } from './respond.ts';

/** Takes pictures into documents: the body is the picture itself. */
export function documentPictureRoutes(services: Services): Router {
  const { db } = services;
  const router = Router();
  router.param('id', subjectAt(services, 'document'));
  router.post('/:id/pictures', may(services, 'document', 'change'), async (request, response) => {
    const bytes = request.body as unknown;
    if (!Buffer.isBuffer(bytes)) return refuse(response, fault('picture-unknown'));
    const read = readPicture(bytes);
    if (!read.ok) return refuse(response, read.fault);
    const hash = await keepPicture(db, read.value, bytes);
    const { width, height } = read.value;
    const isLines = read.value.type === 'image/svg+xml' && isLinesOnly(bytes);
    const hasUnit = saysItsSize(bytes);
    answer(response, ok({ hash, width, height, isLines, hasUnit } satisfies KeptPicture), 201);
  });
  return router;
}

/** Kept pictures by hash: they never change, so browsers may keep them. */
export function pictureRoutes({ db }: Services): Router {
  const router = Router();
  router.get('/:hash', async (request, response) => {
    const found = await findPicture(db, request.params.hash);
    if (!found) return refuse(response, fault('not-found', { what: 'picture' }));
    response.setHeader('cache-control', 'private, max-age=31536000, immutable');
    // Opened by itself, a drawing is a page of this server: it may do nothing there.
    response.setHeader(
      'content-security-policy',
      "sandbox; default-src 'none'; img-src data:; style-src 'unsafe-inline'",
    );
    response.setHeader('content-type', found.type);
    const hidden = String(request.query.without ?? '')
      .split(',')
      .filter(Boolean);
    const isDrawing = found.type === 'image/svg+xml';
    const shown = isDrawing && hidden.length > 0 ? withoutLayers(found.bytes, hidden) : found.bytes;
    response.end(isDrawing && request.query.grey !== undefined ? inGrey(shown) : shown);
  });
  // What can be left out of a picture by `without`: nothing of one that is no drawing.
  router.get('/:hash/layers', async (request, response) => {
    const found = await findPicture(db, request.params.hash);
    if (!found) return refuse(response, fault('not-found', { what: 'picture' }));
    const layers = found.type === 'image/svg+xml' ? drawingLayers(found.bytes) : [];
    response.json(layers satisfies PictureLayer[]);
  });
  return router;
}
