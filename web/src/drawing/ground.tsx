import type { AnyPage } from '@tether/documents';
import type { PageSurface } from '../page/surface/page-surface.ts';
import { settingsOf, sheetOf } from './drawing-kind.ts';
import { SheetFrame } from './SheetFrame.tsx';

/** The frame and the title block of a sheet. */
export function groundOf(surface: PageSurface, page: AnyPage) {
  const pages = surface.pages.pages();
  const tied = surface.pages
    .things()
    .flatMap((thing) =>
      thing.kind === 'object' && thing.page === page.id && thing.field ? [thing.field] : [],
    );
  return (
    <SheetFrame
      sheet={sheetOf(page)}
      settings={settingsOf(surface.pages.settings())}
      nth={pages.findIndex(({ id }) => id === page.id) + 1}
      count={pages.length}
      tied={tied}
    />
  );
}
