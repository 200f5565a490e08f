import { Popover, PopoverButton, PopoverPanel } from '@headlessui/react';
import type { SheetOutline, SourceContents, Tether } from '@tether/contract';
import { type Area, formatReference } from '@tether/core';
import { FolderSearch, X } from 'lucide-react';
import { type Ref, useEffect, useState } from 'react';
import type { CarriedCells } from '../sources/carried.ts';
import { blockOutlines, nameOutlines } from '../sources/outlines.tsx';
import { type GridView, SheetGrid } from '../sources/SheetGrid.tsx';
import type { Outline } from '../sources/SheetOutlines.tsx';
import { SheetTabs } from '../sources/SheetTabs.tsx';
import { SourceList } from '../sources/SourceList.tsx';
import { useCellCopy } from '../sources/useCellCopy.ts';
import { faultOf, useSourcesQuery } from '../state/api.ts';
import { useAppDispatch, useAppSelector } from '../state/store.ts';
import { alongsideClosed, sourceShown } from '../state/workbench-slice.ts';
import { FaultNote } from '../ui/FaultNote.tsx';
import { IconButton } from '../ui/IconButton.tsx';
import type { ObjectCells } from './useObjectCells.ts';
import type { ShownSheet } from './useShownSheet.ts';

interface Props {
  objects: Tether[];
  shown: ShownSheet;
  cells: ReadonlyMap<string, ObjectCells>;
  onShowObject: (tetherId: string) => void;
  /** Places cells at the cursor; absent where the document may not be changed. */
  onPlace: ((cells: CarriedCells) => void) | undefined;
  viewRef: Ref<GridView>;
}

/** The source beside the document: one of those in use, or any other, with the cells that objects take outlined. */
export function Alongside(props: Props) {
  const { objects, shown } = props;
  const { sourceId } = shown;
  const dispatch = useAppDispatch();
  const { data: folders = [] } = useSourcesQuery();
  const used = [...new Map(objects.map(({ source }) => [source.id, source])).values()];
  const isOther = sourceId !== null && !used.some(({ id }) => id === sourceId);
  const other = isOther
    ? folders.flatMap(({ sources }) => sources).find(({ id }) => id === sourceId)
    : undefined;
  const choose = (id: string, sheet?: string) =>
    dispatch(sourceShown({ sourceId: id, sheet: sheet ?? null, area: null }));
  return (
    <section
      aria-label="Alongside"
      data-source-pane
      className="flex h-full min-w-0 flex-col gap-1.5 bg-mist p-2"
    >
      <div className="flex items-start gap-1">
        <div className="flex min-w-0 flex-1 flex-wrap items-center gap-1">
          {[...used, ...(other ? [other] : [])].map((source) => (
            <button
              key={source.id}
              type="button"
              data-source-tab={source.id}
              aria-pressed={source.id === sourceId}
              title={`${source.folder}/${source.path}`}
              onClick={() => choose(source.id)}
              className={`h-7 max-w-[220px] truncate rounded-box border px-2 ${source.id === sourceId ? 'border-rope bg-white font-semibold' : 'border-hairline bg-transparent hover:bg-white'}`}
            >
              {source.path.split('/').at(-1)}
            </button>
          ))}
          <Popover className="relative">
            <PopoverButton className="flex h-7 items-center gap-1 rounded-box border border-transparent px-2 hover:bg-white">
              <FolderSearch size={14} aria-hidden /> Another source
            </PopoverButton>
            <PopoverPanel
              anchor="bottom start"
              className="z-40 flex h-[420px] rounded-box border border-hairline bg-white"
            >
              {({ close }) => (
                <SourceList
                  folders={folders}
                  usedIds={new Set(used.map(({ id }) => id))}
                  chosen={sourceId}
                  onChoose={(id, sheet) => {
                    choose(id, sheet);
                    close();
                  }}
                />
              )}
            </PopoverPanel>
          </Popover>
        </div>
        <IconButton
          icon={X}
          label="Close alongside"
          className="size-7"
          onClick={() => dispatch(alongsideClosed())}
        />
      </div>
      {sourceId ? (
        <FromSource key={sourceId} {...props} />
      ) : (
        <p className="m-auto max-w-xs text-center text-muted">
          No object stands in the text yet. Choose a source, take cells of it and drag them into the
          text.
        </p>
      )}
    </section>
  );
}

function FromSource(props: Props) {
  const { sourceId, contents, sheet, error } = props.shown;
  if (error) return <FaultNote fault={faultOf(error)} />;
  if (!contents || !sheet || sourceId === null) {
    return (
      <p className="m-auto text-muted" role="status">
        Opening the source …
      </p>
    );
  }
  return <Sheet {...props} sourceId={sourceId} contents={contents} sheet={sheet} />;
}

function Sheet(props: Props & { sourceId: string; contents: SourceContents; sheet: SheetOutline }) {
  const { sourceId, contents, sheet, objects, cells, onShowObject, onPlace, viewRef } = props;
  const dispatch = useAppDispatch();
  const shownCells = useAppSelector(({ workbench }) => workbench.shownCells);
  const selected = useAppSelector(({ workbench }) => workbench.selected);
  const [selection, setSelection] = useState<Area | null>(shownCells?.area ?? null);
  useEffect(() => {
    if (shownCells) setSelection(shownCells.area);
  }, [shownCells]);

  const path = objects.find(({ source }) => source.id === sourceId)?.source.path ?? '';
  const at = { sourceId, path, sheet: sheet.name };
  const { put, copy } = useCellCopy(at, contents.hash, selection);

  const uses: Outline[] = objects.flatMap((tether) => {
    const place = cells.get(tether.id);
    if (!place || tether.source.id !== sourceId || place.sheet !== sheet.name) return [];
    return [
      {
        key: tether.id,
        area: place.area,
        label: tether.name,
        kind: 'use' as const,
        isChosen: tether.id === selected,
        onChoose: () => onShowObject(tether.id),
      },
    ];
  });
  const used = uses.map(({ area }) => area);
  const names = nameOutlines(contents, sheet.name, ({ area }) => setSelection(area), used);
  return (
    <>
      {contents.sheets.length > 1 && (
        <SheetTabs
          sheets={contents.sheets}
          chosen={sheet}
          onChoose={(name) => {
            setSelection(null);
            dispatch(sourceShown({ sourceId, sheet: name, area: null }));
          }}
        />
      )}
      <SheetGrid
        key={`${sourceId} ${sheet.name}`}
        sourceId={sourceId}
        hash={contents.hash}
        sheet={sheet.name}
        used={sheet.usedArea}
        rows={sheet.rows}
        selection={selection}
        onSelect={setSelection}
        viewRef={viewRef}
        onCopy={copy}
        {...(onPlace
          ? {
              carry: {
                label: 'Drag these cells into the document, or press to place them',
                onDragStart: put,
                onPress: (area: Area) => onPlace({ ...at, area }),
              },
            }
          : {})}
        outlines={[
          ...uses,
          ...names,
          ...blockOutlines(sheet, ({ area }) => setSelection(area), [
            ...names.map(({ area }) => area),
            ...used,
          ]),
        ]}
      />
      <p className="truncate text-muted">
        {selection ? (
          <span className="font-mono text-[12px] text-ink">
            {formatReference({ sheet: sheet.name, area: selection })}
          </span>
        ) : (
          'Take cells with the mouse or with Shift and the arrows; drag or copy them into the document.'
        )}
      </p>
    </>
  );
}
