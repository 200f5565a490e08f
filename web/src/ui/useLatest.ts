import { type RefObject, useRef } from 'react';

/** What a value was when it was drawn last, for what is called later, such as by an editor that is made once. */
export function useLatest<T>(value: T): RefObject<T> {
  const latest = useRef(value);
  latest.current = value;
  return latest;
}
