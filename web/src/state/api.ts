import type { UnknownAction } from '@reduxjs/toolkit';
import { api } from './api/ask.ts';
import { readingApi } from './api/reading.ts';

export * from './api/ask.ts';
export * from './api/documents.ts';
export * from './api/edits.ts';
export * from './api/ledger.ts';
export * from './api/log.ts';
export * from './api/people.ts';
export * from './api/reading.ts';
export * from './api/sources.ts';
export * from './api/tethers.ts';

/** Forgets all that was asked: somebody else signs in. */
export function forgetAll(dispatch: (action: UnknownAction) => unknown): void {
  dispatch(api.util.resetApiState());
  dispatch(readingApi.util.resetApiState());
}
