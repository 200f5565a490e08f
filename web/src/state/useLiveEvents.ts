import type { LiveEvent } from '@tether/contract';
import { useEffect } from 'react';
import { api, documentsApi, readingApi } from './api.ts';
import { databaseChanged, liveChanged } from './connection-slice.ts';
import { LiveStream } from './live-stream.ts';
import { useAppDispatch } from './store.ts';

type Tags = Parameters<typeof api.util.invalidateTags>[0];

/** What an event makes out of date on this screen. */
function staleTags(event: LiveEvent): Tags {
  switch (event.kind) {
    case 'tethers':
      return [
        { type: 'Tethers', id: event.documentId },
        'Edits',
        'NeedsYou',
        'Documents',
        'Ledger',
      ];
    case 'sources':
      return ['Sources', 'Contents', 'Entries'];
    case 'entries':
      return [{ type: 'Entries', id: event.sourceId }];
    case 'document':
      return [{ type: 'Document', id: event.documentId }, 'Documents', 'NeedsYou', 'Ledger'];
    case 'written':
      return ['Documents'];
    case 'log':
      return ['Log', 'History'];
    case 'jobs':
      return ['Jobs'];
    case 'beat':
      return [];
    case 'resync':
      return EVERYTHING;
  }
}

/** Who wrote last, of a document that is open: its text comes another way. */
function noteWritten({ documentId, version, by }: Extract<LiveEvent, { kind: 'written' }>) {
  return documentsApi.util.updateQueryData('document', documentId, (known) => {
    Object.assign(known, { version, savedBy: by, savedAt: new Date().toISOString() });
  });
}

const EVERYTHING = [
  'Documents',
  'Document',
  'Tethers',
  'NeedsYou',
  'Ledger',
  'Sources',
  'Contents',
  'Entries',
  'Log',
  'History',
  'Jobs',
  'Me',
] as const satisfies Tags;

/** Keeps this screen up to date for as long as it is open. */
export function useLiveEvents(): void {
  const dispatch = useAppDispatch();
  useEffect(() => {
    const stream = new LiveStream({
      heard: (events) => {
        for (const event of events) {
          if (event.kind === 'written') dispatch(noteWritten(event));
        }
        const tags = events.flatMap((event) => staleTags(event) ?? []);
        dispatch(api.util.invalidateTags(tags));
        dispatch(readingApi.util.invalidateTags(tags));
      },
      connected: (isConnected) => dispatch(liveChanged(isConnected)),
      database: (isThere) => dispatch(databaseChanged(isThere)),
    });
    const woken = () => {
      if (document.visibilityState === 'visible') stream.check();
    };
    const online = () => stream.connect();
    document.addEventListener('visibilitychange', woken);
    window.addEventListener('online', online);
    return () => {
      document.removeEventListener('visibilitychange', woken);
      window.removeEventListener('online', online);
      stream.close();
    };
  }, [dispatch]);
}
