import { useEffect, useRef } from 'react';
import { useSearchParams } from 'react-router';
import { useSurface } from '../../documents/surface.ts';
import type { PageSurface } from './page-surface.ts';

/** Gives each page an address, that of its document with `?page=` and its name: it shows the page, and is that of the page shown. */
export function useShownPage(surface: PageSurface): void {
  const [query, setQuery] = useSearchParams();
  const asked = useRef(query.get('page'));
  const shown = useSurface(surface, () => surface.shown.page().id);
  const isFirst = useSurface(surface, () => surface.pages.pages()[0]?.id === shown);
  useEffect(() => {
    if (asked.current) surface.shown.showPage(asked.current);
    asked.current = null;
  }, [surface]);
  const inAddress = query.get('page');
  const wanted = isFirst ? null : shown;
  useEffect(() => {
    if (inAddress === wanted) return;
    setQuery(
      (before) => {
        if (wanted) before.set('page', wanted);
        else before.delete('page');
        return before;
      },
      { replace: true },
    );
  }, [inAddress, wanted, setQuery]);
}
