import { Plus } from 'lucide-react';
import type { ReactNode } from 'react';
import { useSurface } from '../documents/surface.ts';
import type { PageSurface } from '../page/surface/page-surface.ts';
import { IconButton } from '../ui/IconButton.tsx';
import { sheetOf } from './drawing-kind.ts';

/** The sheets of a drawing: which one is shown, and the way to another one; at its end what is done to how it is seen. */
export function SheetTabs(props: {
  surface: PageSurface;
  isAllowed: boolean;
  children: ReactNode;
}) {
  const { surface, isAllowed, children } = props;
  const sheets = useSurface(surface, () => surface.pages.pages().map(sheetOf));
  const shown = useSurface(surface, () => surface.shown.page().id);
  const add = () => {
    const last = sheets.at(-1)!;
    const id = crypto.randomUUID();
    surface.pages.step(() =>
      surface.pages.addPage({ ...last, id, name: `Sheet ${sheets.length + 1}` }, sheets.length),
    );
    surface.shown.showPage(id);
  };
  return (
    <div className="flex h-8 shrink-0 items-center gap-2 border-b border-hairline bg-white px-2">
      <nav aria-label="Sheets" className="flex min-w-0 flex-1 items-center gap-1 overflow-x-auto">
        {sheets.map(({ id, name, size }) => (
          <button
            key={id}
            type="button"
            aria-current={id === shown ? 'page' : undefined}
            className={`h-6 max-w-[220px] truncate rounded-box border px-2 text-sm ${id === shown ? 'border-rope bg-rope/15' : 'border-transparent hover:bg-mist'}`}
            onClick={() => surface.shown.showPage(id)}
          >
            {name} <span className="text-muted">{size}</span>
          </button>
        ))}
        {isAllowed && (
          <IconButton icon={Plus} label="Add a sheet" className="size-6" onClick={add} />
        )}
      </nav>
      {children}
    </div>
  );
}
