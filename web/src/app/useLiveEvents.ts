import { type LiveEvent, liveEventSchema } from '@tether/contract';
import { useEffect } from 'react';
import { api } from './api.ts';
import { liveChanged } from './connectionSlice.ts';
import { useAppDispatch } from './store.ts';

type Tags = Parameters<typeof api.util.invalidateTags>[0];

/** What an event makes out of date on this screen. */
function staleTags(event: LiveEvent): Tags {
  switch (event.kind) {
    case 'tethers':
      return [{ type: 'Tethers', id: event.documentId }, 'NeedsYou', 'Documents'];
    case 'sources':
      return ['Sources', 'Contents'];
    case 'document':
      return [{ type: 'Document', id: event.documentId }, 'Documents', 'NeedsYou'];
    case 'log':
      return ['Log'];
    case 'resync':
      return ['Documents', 'Document', 'Tethers', 'NeedsYou', 'Sources', 'Contents', 'Log', 'Me'];
  }
}

const RETRY_MS = 2_000;

/** Listens to the server for as long as the screen is open, also after a lost connection or a restart. */
export function useLiveEvents(): void {
  const dispatch = useAppDispatch();
  useEffect(() => {
    let source: EventSource;
    let timer: number | undefined;
    const connect = () => {
      source = new EventSource('/api/events');
      source.onopen = () => dispatch(liveChanged(true));
      source.onmessage = ({ data }: MessageEvent<string>) => {
        const event = liveEventSchema.safeParse(JSON.parse(data));
        if (event.success) dispatch(api.util.invalidateTags(staleTags(event.data)));
      };
      source.onerror = () => {
        dispatch(liveChanged(false));
        // The browser reconnects by itself unless the server refused: then a new stream starts with everything anew.
        if (source.readyState === EventSource.CLOSED) timer = window.setTimeout(connect, RETRY_MS);
      };
    };
    connect();
    return () => {
      window.clearTimeout(timer);
      source.close();
    };
  }, [dispatch]);
}
