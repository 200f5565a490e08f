import { useCallback, useEffect, useRef, useState } from 'react';

/** How far a presentation has come, in all windows of it in this browser. */
interface Place {
  index: number;
  isBlack: boolean;
  /** When it began, as a time of this machine; null before. */
  since: number | null;
}

export interface Course extends Place {
  begin(): void;
  go(by: -1 | 1): void;
  black(): void;
  /** Does what a key stands for; false for keys that stand for nothing here. */
  key(key: string): boolean;
}

/** Goes through the slides of a deck; every window of the presentation goes along. */
export function useCourse(documentId: string, count: number): Course {
  const [place, setPlace] = useState<Place>({ index: 0, isBlack: false, since: null });
  const channel = useRef<BroadcastChannel | null>(null);
  const now = useRef(place);
  now.current = place;
  useEffect(() => {
    const opened = new BroadcastChannel(`presenting-${documentId}`);
    channel.current = opened;
    opened.onmessage = ({ data }: MessageEvent<Place | 'where'>) => {
      // A window that comes later asks the others where they are.
      if (data !== 'where') setPlace(data);
      else if (now.current.since !== null) opened.postMessage(now.current);
    };
    opened.postMessage('where');
    return () => opened.close();
  }, [documentId]);
  const set = useCallback((change: Partial<Place>) => {
    const next = { ...now.current, ...change };
    now.current = next;
    setPlace(next);
    channel.current?.postMessage(next);
  }, []);
  const to = (index: number) =>
    set({ index: Math.min(count - 1, Math.max(0, index)), isBlack: false });
  const go = (by: -1 | 1) => to(now.current.index + by);
  return {
    ...place,
    index: Math.min(place.index, Math.max(0, count - 1)),
    begin: () => set({ index: 0, isBlack: false, since: Date.now() }),
    go,
    black: () => set({ isBlack: !now.current.isBlack }),
    key(key) {
      switch (key) {
        case 'ArrowRight':
        case 'ArrowDown':
        case 'PageDown':
        case ' ':
        case 'Enter':
          go(1);
          return true;
        case 'ArrowLeft':
        case 'ArrowUp':
        case 'PageUp':
        case 'Backspace':
          go(-1);
          return true;
        case 'Home':
          to(0);
          return true;
        case 'End':
          to(count - 1);
          return true;
        case 'b':
        case 'B':
          set({ isBlack: !now.current.isBlack });
          return true;
        default:
          return false;
      }
    },
  };
}
