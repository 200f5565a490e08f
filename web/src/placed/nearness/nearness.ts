import {
  createContext,
  type RefObject,
  useContext,
  useEffect,
  useState,
  useSyncExternalStore,
} from 'react';
import { whenIdle } from './when-idle.ts';

/**
 * What is drawn: what somebody comes near, as on the screen; or, as for printing, everything, of long tables first only the
 * room (`rooms`), so that pages are broken before thousands of cells are laid out, and then their cells too (`all`).
 */
export const Drawing = createContext<'near' | 'rooms' | 'all'>('near');

/** How far around the screen things are drawn already. */
const AROUND = '1200px 0px';
/** How far while it is not known how large they come out: then very many seem to be near. */
const AT_FIRST = '0px 0px';

interface Watch {
  observer: IntersectionObserver;
  told: Map<Element, (isNear: boolean) => void>;
}
/** One watch for each box that scrolls and each distance; null is the window. */
const watches = new Map<string, Map<Element | null, Watch>>();

/** Tells whether an element is near the screen, now and at each change. Gives the way to stop. */
function watchNear(element: Element, around: string, tell: (isNear: boolean) => void): () => void {
  // What scrolls cuts off everything beyond it, whatever room around the window is asked for.
  const root = element.closest('[data-scroll]');
  const byRoot = watches.get(around) ?? new Map<Element | null, Watch>();
  watches.set(around, byRoot);
  const watch = byRoot.get(root) ?? startWatch(root, around);
  byRoot.set(root, watch);
  const { observer, told } = watch;
  told.set(element, tell);
  observer.observe(element);
  return () => {
    told.delete(element);
    observer.unobserve(element);
    if (told.size > 0) return;
    observer.disconnect();
    byRoot.delete(root);
  };
}

function startWatch(root: Element | null, rootMargin: string): Watch {
  const told: Watch['told'] = new Map();
  const observer = new IntersectionObserver(
    (entries) => {
      for (const { target, isIntersecting } of entries) told.get(target)?.(isIntersecting);
    },
    { root, rootMargin },
  );
  return { observer, told };
}

/** Whether a box is near the screen; never asked where everything is drawn. `around`: how near, in pixels. */
export function useNear(box: RefObject<Element | null>, around = AROUND): boolean {
  const isAsked = useContext(Drawing) === 'near';
  const [isNear, setNear] = useState(false);
  useEffect(
    () => (isAsked && box.current ? watchNear(box.current, around, setNear) : undefined),
    [isAsked, box, around],
  );
  return isNear;
}

/** Somebody needs all that was not drawn yet. */
class Everything {
  private asked = false;
  private readonly listeners = new Set<() => void>();
  readonly subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => {
      this.listeners.delete(listener);
      if (this.listeners.size === 0) this.asked = false;
    };
  };
  readonly isAsked = (): boolean => this.asked;
  ask(): void {
    this.asked = true;
    for (const listener of this.listeners) listener();
  }
}
const everything = new Everything();

/** Has everything that is on this page drawn now, wherever it stands. */
export const drawEverything = (): void => everything.ask();

/**
 * Whether a box is drawn: from when it comes near the screen, or its turn comes once it is known how large it comes out.
 * What was drawn once stays.
 */
export function useDrawn(box: RefObject<Element | null>, isSized: boolean): boolean {
  const drawsAll = useContext(Drawing) !== 'near';
  const [wasNear, setWasNear] = useState(false);
  const isAll = useSyncExternalStore(everything.subscribe, everything.isAsked);
  const hasTurn = useIdleTurn(isSized);
  const isDrawn = drawsAll || wasNear || hasTurn || isAll;
  useEffect(() => {
    if (isDrawn || !box.current) return;
    const around = isSized ? AROUND : AT_FIRST;
    return watchNear(box.current, around, (isNear) => isNear && setWasNear(true));
  }, [isDrawn, isSized, box]);
  return isDrawn;
}

/** Whether its turn has come to be drawn although nobody looks: when there is nothing else to do. */
export function useIdleTurn(isWanted: boolean): boolean {
  const isAsked = useContext(Drawing) === 'near';
  const [hasTurn, setTurn] = useState(false);
  useEffect(
    () => (isWanted && isAsked ? whenIdle(() => setTurn(true)) : undefined),
    [isWanted, isAsked],
  );
  return hasTurn;
}
