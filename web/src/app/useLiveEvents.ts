import { type LiveEvent, liveEventSchema } from '@tether/contract';
import { useEffect } from 'react';
import { api, readingApi } from './api.ts';
import { liveChanged } from './connectionSlice.ts';
import { useAppDispatch } from './store.ts';

type Tags = Parameters<typeof api.util.invalidateTags>[0];

/** What an event makes out of date on this screen. */
function staleTags(event: LiveEvent): Tags {
  switch (event.kind) {
    case 'tethers':
      return [{ type: 'Tethers', id: event.documentId }, 'NeedsYou', 'Documents', 'Ledger'];
    case 'sources':
      return ['Sources', 'Contents'];
    case 'document':
      return [{ type: 'Document', id: event.documentId }, 'Documents', 'NeedsYou', 'Ledger'];
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

const EVERYTHING = [
  'Documents',
  'Document',
  'Tethers',
  'NeedsYou',
  'Ledger',
  'Sources',
  'Contents',
  'Log',
  'History',
  'Jobs',
  'Me',
] as const satisfies Tags;

const RETRY_MS = 2_000;
/** The server says every few seconds that it is there: a stream that is silent for longer is dead without knowing it. */
const SILENT_MS = 25_000;
const CHECK_MS = 5_000;
/** Events that come close together are answered as one. */
const TOGETHER_MS = 40;

/**
 * Listens to the server for as long as the screen is open: also after a lost connection, a restart, or a sleep of the
 * computer, after which the stream may look open and be dead.
 */
export function useLiveEvents(): void {
  const dispatch = useAppDispatch();
  useEffect(() => {
    let source: EventSource | null = null;
    let retry: number | undefined;
    let lastHeard = Date.now();
    let stale: NonNullable<Tags>[number][] = [];
    let together: number | undefined;
    const answer = () => {
      together = undefined;
      const tags = stale;
      stale = [];
      dispatch(api.util.invalidateTags(tags));
      dispatch(readingApi.util.invalidateTags(tags));
    };
    const connect = () => {
      window.clearTimeout(retry);
      source?.close();
      lastHeard = Date.now();
      const stream = new EventSource('/api/events');
      source = stream;
      stream.onopen = () => dispatch(liveChanged(true));
      stream.onmessage = ({ data }: MessageEvent<string>) => {
        lastHeard = Date.now();
        const event = liveEventSchema.safeParse(JSON.parse(data));
        if (!event.success) return;
        stale.push(...(staleTags(event.data) ?? []));
        if (stale.length > 0) together ??= window.setTimeout(answer, TOGETHER_MS);
      };
      stream.onerror = () => {
        dispatch(liveChanged(false));
        // The browser reconnects by itself unless the server refused: then a new stream starts with everything anew.
        if (stream.readyState === EventSource.CLOSED) {
          retry = window.setTimeout(connect, RETRY_MS);
        }
      };
    };
    const check = () => {
      if (Date.now() - lastHeard < SILENT_MS) return;
      dispatch(liveChanged(false));
      connect();
    };
    const timer = window.setInterval(check, CHECK_MS);
    const woken = () => {
      if (document.visibilityState === 'visible') check();
    };
    document.addEventListener('visibilitychange', woken);
    window.addEventListener('online', connect);
    connect();
    return () => {
      window.clearInterval(timer);
      window.clearTimeout(retry);
      window.clearTimeout(together);
      document.removeEventListener('visibilitychange', woken);
      window.removeEventListener('online', connect);
      source?.close();
    };
  }, [dispatch]);
}
