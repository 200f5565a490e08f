import { describe, expect, test } from '@jest/globals';
import { can, type Subject } from '@tether/contract';
import type { Router } from 'express';
import type { Services } from '../services.ts';
import { documentRoutes } from './documents.ts';
import { folderRoutes } from './folders.ts';
import { ledgerRoutes, logRoutes } from './ledger.ts';
import { outputRoutes } from './outputs.ts';
import { sourceRoutes } from './sources.ts';
import { snapshotRoutes, tetherRoutes } from './tethers.ts';

const services = { db: null } as unknown as Services;

/** Every route of a router that is no plain reading, with the names of what stands in front of it. */
function changingRoutes(router: Router): { route: string; asks: boolean }[] {
  return router.stack.flatMap(({ route }) => {
    if (!route) return [];
    const methods = [...new Set(route.stack.map(({ method }) => method))];
    const asks = route.stack.some(({ handle }) => handle.name === 'asksRight');
    return methods
      .filter((method) => method !== 'get')
      .map((method) => ({ route: `${method} ${route.path}`, asks }));
  });
}

describe('every route that is no plain reading asks whether the person may', () => {
  test.each([
    ['documents', documentRoutes],
    ['outputs', outputRoutes],
    ['tethers', tetherRoutes],
    ['snapshots', snapshotRoutes],
    ['sources', sourceRoutes],
    ['source folders', folderRoutes],
    ['ledger', ledgerRoutes],
    ['log', logRoutes],
  ])('%s', (_, routes) => {
    expect(changingRoutes(routes(services)).filter(({ asks }) => !asks)).toEqual([]);
  });

  test('and there are such routes', () => {
    expect(changingRoutes(documentRoutes(services)).length).toBeGreaterThan(5);
  });
});

describe('who may do what', () => {
  const kinds: Subject['kind'][] = ['document', 'object', 'source', 'source file', 'log'];
  test('everybody looks at everything', () => {
    for (const kind of [...kinds, 'source folder' as const]) {
      expect(can({ role: 'viewer' }, 'look', { kind })).toBe(true);
    }
  });
  test('who may only look changes nothing', () => {
    for (const kind of [...kinds, 'source folder' as const]) {
      expect(can({ role: 'viewer' }, 'change', { kind })).toBe(false);
    }
  });
  test('an editor changes everything but which folders are sources', () => {
    for (const kind of kinds) expect(can({ role: 'editor' }, 'change', { kind })).toBe(true);
    expect(can({ role: 'editor' }, 'change', { kind: 'source folder' })).toBe(false);
    expect(can({ role: 'owner' }, 'change', { kind: 'source folder' })).toBe(true);
  });
});
