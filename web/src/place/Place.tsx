import { Dialog, DialogPanel, DialogTitle, Tab, TabGroup, TabList } from '@headlessui/react';
import { MAX_TILE_CELLS, type Tether } from '@tether/contract';
import {
  type Area,
  cellCount,
  columnWidths,
  type Fault,
  fault,
  findSheet,
  formatArea,
  formatReference,
  MAX_REACH_CELLS,
  parseReference,
  type Snapshot,
  suggestName,
} from '@tether/core';
import { X } from 'lucide-react';
import { useState } from 'react';
import {
  faultOf,
  useCellsQuery,
  useContentsQuery,
  usePlaceMutation,
  useSourcesQuery,
  useTethersQuery,
} from '../app/api.ts';
import { PlacedTable } from '../placed/PlacedTable.tsx';
import { TEXT_WIDTH } from '../placed/page.ts';
import { SheetGrid } from '../sources/SheetGrid.tsx';
import { Button } from '../ui/Button.tsx';
import { FaultNote } from '../ui/FaultNote.tsx';
import { IconButton } from '../ui/IconButton.tsx';
import { TextField } from '../ui/TextField.tsx';
import { SourceList } from './SourceList.tsx';

interface Props {
  documentId: string;
  onClose: () => void;
  onPlaced: (tether: Tether) => void;
}

/** Place: choose a source, take cells on its sheet, see them as they will stand in the document, done. */
export function Place({ documentId, onClose, onPlaced }: Props) {
  const { data: folders = [] } = useSourcesQuery();
  const { data: tethers = [] } = useTethersQuery(documentId);
  const [sourceId, setSourceId] = useState<string | null>(null);
  const source = folders.flatMap((each) => each.sources).find(({ id }) => id === sourceId);
  return (
    <Dialog open onClose={onClose} className="fixed inset-0 z-40">
      <div className="fixed inset-0 bg-ink/30 p-4">
        <DialogPanel className="flex h-full flex-col overflow-hidden rounded-box border border-hairline bg-mist">
          <div className="flex h-11 shrink-0 items-center gap-3 border-b border-hairline bg-white px-4">
            <DialogTitle className="text-[16px] font-semibold">Place a live table</DialogTitle>
            {source && (
              <span className="font-mono text-[12px] text-muted">
                {source.folder}/{source.path}
              </span>
            )}
            <IconButton
              icon={X}
              label="Close without placing"
              onClick={onClose}
              className="ml-auto"
            />
          </div>
          <div className="flex min-h-0 flex-1">
            <SourceList
              folders={folders}
              usedIds={
                new Set(tethers.filter(({ placed }) => placed).map((each) => each.source.id))
              }
              chosen={sourceId}
              onChoose={setSourceId}
            />
            {sourceId ? (
              <FromSource
                key={sourceId}
                sourceId={sourceId}
                documentId={documentId}
                onPlaced={onPlaced}
              />
            ) : (
              <p className="m-auto max-w-sm text-center text-muted">
                Choose a source at the left. Its sheets open here; drag over the cells that the
                document should show.
              </p>
            )}
          </div>
        </DialogPanel>
      </div>
    </Dialog>
  );
}

function FromSource(props: { sourceId: string; documentId: string; onPlaced: Props['onPlaced'] }) {
  const { sourceId, documentId, onPlaced } = props;
  const {
    data: contents,
    error,
    isFetching,
  } = useContentsQuery(sourceId, {
    refetchOnMountOrArgChange: true,
  });
  const [sheetName, setSheetName] = useState<string | null>(null);
  const [area, setArea] = useState<Area | null>(null);
  const [typed, setTyped] = useState<string | null>(null);
  if (error) {
    return (
      <div className="flex-1 p-6">
        <FaultNote fault={faultOf(error)} />
      </div>
    );
  }
  if (!contents) {
    return (
      <p className="m-auto text-muted" role="status">
        {isFetching ? 'Opening the source …' : ''}
      </p>
    );
  }
  const visible = contents.sheets.filter(({ state }) => state === 'visible');
  const sheet =
    contents.sheets.find(({ name }) => name === sheetName) ?? visible[0] ?? contents.sheets[0]!;
  const reading = typed === null ? null : readTyped(typed, sheet.name, contents.sheets);

  const choose = (chosen: Area | null) => {
    setArea(chosen);
    setTyped(null);
  };
  const type = (text: string) => {
    setTyped(text);
    const read = readTyped(text, sheet.name, contents.sheets);
    if (read && 'area' in read) {
      setSheetName(read.sheet);
      setArea(read.area);
    } else setArea(null);
  };

  return (
    <>
      <div className="flex min-w-0 flex-1 flex-col gap-2 p-3">
        <div className="flex items-center gap-3">
          <TabGroup
            selectedIndex={contents.sheets.indexOf(sheet)}
            onChange={(index) => {
              setSheetName(contents.sheets[index]!.name);
              choose(null);
            }}
          >
            <TabList aria-label="Sheets" className="flex flex-wrap gap-1">
              {contents.sheets.map(({ name, state }) => (
                <Tab
                  key={name}
                  className="rounded-box border border-transparent px-2.5 py-1 data-hover:bg-white data-selected:border-hairline data-selected:bg-white data-selected:font-semibold"
                >
                  {name}
                  {state !== 'visible' && <span className="text-muted"> ({state})</span>}
                </Tab>
              ))}
            </TabList>
          </TabGroup>
          {sheet.usedArea ? (
            <Button kind="quiet" className="ml-auto" onClick={() => choose(sheet.usedArea)}>
              Take all filled cells ({formatArea(sheet.usedArea)})
            </Button>
          ) : (
            <span className="ml-auto text-muted">This sheet is empty</span>
          )}
        </div>
        <SheetGrid
          key={sheet.name}
          sourceId={sourceId}
          hash={contents.hash}
          sheet={sheet.name}
          used={sheet.usedArea}
          selection={area}
          onSelect={choose}
        />
      </div>
      <Outcome
        sourceId={sourceId}
        hash={contents.hash}
        documentId={documentId}
        sheet={sheet.name}
        area={area}
        reference={typed ?? (area ? formatReference({ sheet: sheet.name, area }) : '')}
        onType={type}
        referenceFault={reading && 'code' in reading ? reading : null}
        onPlaced={onPlaced}
      />
    </>
  );
}

/** What a typed reference means: cells of a sheet, or the fault to show; null while nothing is typed. */
function readTyped(
  text: string,
  sheet: string,
  sheets: { name: string }[],
): { sheet: string; area: Area } | Fault | null {
  if (text.trim() === '') return null;
  const parsed = parseReference(text);
  if (!parsed.ok) return parsed.fault;
  const named = parsed.value.sheet;
  const found = named === null ? { name: sheet } : findSheet(sheets, named);
  if (!found) {
    return fault('sheet-missing', {
      sheet: named ?? '',
      sheets: sheets.map(({ name }) => name).join(', '),
    });
  }
  return { sheet: found.name, area: parsed.value.area };
}

const PREVIEW_WIDTH = 292;

function widthOf(snapshot: Snapshot): number {
  return columnWidths(snapshot).reduce((sum, width) => sum + width, 0);
}

/** As large as the room allows, never larger than it will stand on the page. */
function previewScale(snapshot: Snapshot): number {
  return Math.min(1, PREVIEW_WIDTH / Math.max(1, Math.min(widthOf(snapshot), TEXT_WIDTH * 1.5)));
}

function widthInWords(snapshot: Snapshot): string {
  const share = widthOf(snapshot) / TEXT_WIDTH;
  return share > 1
    ? 'wider than the text on the page'
    : `${Math.round(share * 100)} % of the text’s width`;
}

function Outcome(props: {
  sourceId: string;
  hash: string;
  documentId: string;
  sheet: string;
  area: Area | null;
  reference: string;
  onType: (text: string) => void;
  referenceFault: Fault | null;
  onPlaced: Props['onPlaced'];
}) {
  const { sourceId, hash, documentId, sheet, area, reference, referenceFault } = props;
  const [ownName, setOwnName] = useState<string | null>(null);
  const [place, { isLoading, error }] = usePlaceMutation();
  const cells = area ? cellCount(area) : 0;
  const tooLarge =
    cells > MAX_REACH_CELLS
      ? fault('reach-too-large', { cells: cells.toLocaleString('en') })
      : null;
  // Of a long range the preview needs only the beginning.
  const previewed = area && {
    ...area,
    right: Math.min(area.right, area.left + 59),
    bottom: Math.min(area.bottom, area.top + Math.floor(MAX_TILE_CELLS / 60) - 1),
  };
  const { data: preview, error: previewError } = useCellsQuery(
    { sourceId, hash, sheet, reference: previewed ? formatArea(previewed) : '' },
    { skip: previewed === null },
  );
  const current = previewed ? preview : undefined;
  const name = ownName ?? (current ? suggestName(current) : '');

  const finish = async () => {
    if (!area) return;
    const result = await place({
      documentId,
      sourceId,
      reach: { kind: 'block', sheet, area },
      name: name.trim(),
    });
    if (!result.error) props.onPlaced(result.data);
  };

  return (
    <form
      className="flex w-[344px] shrink-0 flex-col gap-3 overflow-auto border-l border-hairline bg-white p-4"
      onSubmit={(event) => {
        event.preventDefault();
        void finish();
      }}
    >
      <TextField
        label="Cells"
        isAddress
        value={reference}
        onChange={props.onType}
        placeholder="drag over cells, or type B2:F14"
        fault={referenceFault ?? tooLarge}
        spellCheck={false}
      />
      <TextField
        label="Name"
        value={name}
        onChange={setOwnName}
        maxLength={120}
        placeholder="suggested from the header"
      />
      <div>
        <h3 className="mb-1 text-sm font-semibold text-muted">As it will stand in the document</h3>
        <div
          data-testid="preview"
          className="max-h-[340px] min-h-[120px] overflow-hidden border border-hairline bg-white p-2"
        >
          {current ? (
            <div
              style={{ transform: `scale(${previewScale(current)})`, transformOrigin: 'top left' }}
            >
              <PlacedTable snapshot={current} label="Preview" maxRows={60} />
            </div>
          ) : previewError ? (
            <FaultNote fault={faultOf(previewError)} />
          ) : (
            <p className="text-muted">Take some cells to see them here.</p>
          )}
        </div>
        {area && (
          <p className="mt-1 text-muted">
            {area.bottom - area.top + 1} rows, {area.right - area.left + 1} columns
            {current && `; ${widthInWords(current)}`}
          </p>
        )}
      </div>
      {error && <FaultNote fault={faultOf(error)} />}
      <Button
        type="submit"
        kind="primary"
        disabled={!area || tooLarge !== null || isLoading || name.trim() === ''}
      >
        Place it
      </Button>
    </form>
  );
}
