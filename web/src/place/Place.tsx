import { Dialog, DialogPanel, DialogTitle } from '@headlessui/react';
import type { SheetOutline, SourceContents, Tether } from '@tether/contract';
import {
  type Area,
  cellsOfChart,
  type Fault,
  fault,
  findSheet,
  formatArea,
  parseReference,
  type SourceChart,
  union,
} from '@tether/core';
import { ArrowDownToLine, Columns3, X } from 'lucide-react';
import { useState } from 'react';
import type { Anchor, LayerOffer, StandOffer } from '../documents/surface.ts';
import { blockOutlines, chartOutlines, nameOutlines } from '../sources/outlines.tsx';
import { SheetGrid } from '../sources/SheetGrid.tsx';
import { SheetTabs } from '../sources/SheetTabs.tsx';
import { SourceList } from '../sources/SourceList.tsx';
import {
  faultOf,
  useContentsQuery,
  useSnapshotQuery,
  useSourcesQuery,
  useTethersQuery,
} from '../state/api.ts';
import { Button } from '../ui/Button.tsx';
import { FaultNote } from '../ui/FaultNote.tsx';
import { IconButton } from '../ui/IconButton.tsx';
import { Outcome } from './Outcome.tsx';
import { draftOf, emptyDraft, type ReachDraft } from './reach-draft.ts';

type FoundBlock = SheetOutline['blocks'][number];

interface Props {
  documentId: string;
  /** The object whose reach is changed, or null for placing a new one. */
  changing: Tether | null;
  /** Where a new object can be told to stand, the usual place first. */
  stands: readonly StandOffer[];
  /** Layers that it can be put onto, first the one it comes onto by itself. */
  layers: readonly LayerOffer[];
  onClose: () => void;
  onPlaced: (tether: Tether, at?: Anchor, layer?: string | null) => void;
}

/** Place: choose a source, say what to take of it, see it as it will stand in the document, done. */
export function Place({ documentId, changing, stands, layers, onClose, onPlaced }: Props) {
  const { data: folders = [] } = useSourcesQuery();
  const { data: tethers = [] } = useTethersQuery(documentId);
  const [chosen, setChosen] = useState<string | null>(null);
  const sourceId = changing?.source.id ?? chosen;
  const source = folders.flatMap((each) => each.sources).find(({ id }) => id === sourceId);
  return (
    <Dialog open onClose={onClose} className="fixed inset-0 z-40">
      <div className="fixed inset-0 bg-ink/30 p-4">
        <DialogPanel className="flex h-full flex-col overflow-hidden rounded-box border border-hairline bg-mist">
          <div className="flex h-11 shrink-0 items-center gap-3 border-b border-hairline bg-white px-4">
            <DialogTitle className="text-[16px] font-semibold">
              {changing ? `What ${changing.name} takes` : 'Place'}
            </DialogTitle>
            {source && (
              <span className="font-mono text-[12px] text-muted">
                {source.folder}/{source.path}
              </span>
            )}
            <IconButton
              icon={X}
              label={changing ? 'Close without changing' : 'Close without placing'}
              onClick={onClose}
              className="ml-auto"
            />
          </div>
          <div className="flex min-h-0 flex-1">
            {!changing && (
              <SourceList
                folders={folders}
                usedIds={
                  new Set(tethers.filter(({ placed }) => placed).map((each) => each.source.id))
                }
                chosen={sourceId}
                onChoose={(id) => setChosen(id)}
              />
            )}
            {sourceId ? (
              <FromSource
                key={sourceId}
                sourceId={sourceId}
                documentId={documentId}
                changing={changing}
                stands={stands}
                layers={layers}
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

function FromSource(props: Omit<Props, 'onClose'> & { sourceId: string }) {
  const { sourceId, changing } = props;
  const { data: contents, error } = useContentsQuery(sourceId, { refetchOnMountOrArgChange: true });
  const { data: base } = useSnapshotQuery(changing?.base ?? '', { skip: !changing });
  if (error) {
    return (
      <div className="flex-1 p-6">
        <FaultNote fault={faultOf(error)} />
      </div>
    );
  }
  if (!contents || (changing && !base)) {
    return (
      <p className="m-auto text-muted" role="status">
        Opening the source …
      </p>
    );
  }
  const first = contents.sheets.find(({ state }) => state === 'visible') ?? contents.sheets[0]!;
  const beginning = changing
    ? draftOf(changing.reach, base!.area, base!.sheet)
    : emptyDraft(first.name);
  return <FromContents {...props} contents={contents} beginning={beginning} />;
}

/** The sheets of an opened source at the left, and at the right what comes of what is taken of them. */
function FromContents(
  props: Parameters<typeof FromSource>[0] & { contents: SourceContents; beginning: ReachDraft },
) {
  const { sourceId, documentId, changing, stands, layers, onPlaced, contents } = props;
  const [taken, setTaken] = useState<{ sheet: string; area: Area } | null>(null);
  const drafting = useDraft(sourceId, contents, props.beginning);
  const { draft, sheet, change, take, typed } = drafting;
  // What needs no range shows the cells that came of it.
  const needsNone = draft.kind === 'whole sheet' || draft.kind === 'chart';
  const shown = !needsNone ? draft.area : taken?.sheet === sheet.name ? taken.area : null;
  const reading = typed === null ? null : readTyped(typed, sheet.name, contents.sheets);
  return (
    <>
      <div className="flex min-w-0 flex-1 flex-col gap-2 p-3">
        <div className="flex items-center gap-3">
          <SheetTabs
            sheets={contents.sheets}
            chosen={sheet}
            onChoose={(name) => change({ sheet: name, area: null, columns: [] })}
          />
          {sheet.usedArea ? (
            <Button kind="quiet" className="ml-auto" onClick={() => take(sheet.usedArea!)}>
              Take all filled cells ({formatArea(sheet.usedArea)})
            </Button>
          ) : (
            <span className="ml-auto text-muted">
              {sheet.fault ? 'Its cells cannot be read' : 'This sheet is empty'}
            </span>
          )}
        </div>
        {sheet.fault && <FaultNote fault={sheet.fault} />}
        <SheetGrid
          key={`${sourceId} ${sheet.name}`}
          sourceId={sourceId}
          hash={contents.hash}
          sheet={sheet.name}
          used={sheet.usedArea}
          rows={sheet.rows}
          selection={shown}
          onSelect={(area) => take(area)}
          outlines={drafting.outlines}
        />
      </div>
      <Outcome
        {...{ sourceId, contents, documentId, changing, stands, layers, draft, typed, onPlaced }}
        onChange={change}
        onType={drafting.type}
        referenceFault={reading && 'code' in reading ? reading : null}
        onTaken={setTaken}
      />
    </>
  );
}

/** What is to be taken of a source: by what is chosen, typed, dragged over, or clicked among what was found on its sheets. */
function useDraft(sourceId: string, contents: SourceContents, beginning: ReachDraft) {
  const [own, setDraft] = useState<ReachDraft | null>(null);
  const [typed, setTyped] = useState<string | null>(null);
  const draft = own ?? beginning;
  const sheet = contents.sheets.find(({ name }) => name === draft.sheet) ?? contents.sheets[0]!;
  const change = (part: Partial<ReachDraft>) => {
    setDraft({ ...draft, ...part });
    setTyped(null);
  };
  /** A range taken on the sheet. What needs no range becomes a block, for that is what was just shown. */
  const kindOfCells = ['name', 'whole sheet', 'chart'].includes(draft.kind) ? 'block' : draft.kind;
  const take = (area: Area, kind = kindOfCells) => change({ area, columns: [], kind });
  const type = (text: string) => {
    setTyped(text);
    const read = readTyped(text, sheet.name, contents.sheets);
    setDraft(
      read && 'area' in read
        ? { ...draft, sheet: read.sheet, area: read.area }
        : { ...draft, area: null },
    );
  };
  /** A block that was found: for what goes by a header, from that on. */
  const takeBlock = (block: FoundBlock, kind = kindOfCells) => {
    const goesByHeader = kind === 'growing block' || kind === 'picked columns';
    take(goesByHeader ? { ...block.area, top: block.area.top + block.title } : block.area, kind);
  };
  const waysOf = (block: FoundBlock) => [
    {
      label: `${formatArea(block.area)} as a growing block`,
      icon: ArrowDownToLine,
      onChoose: () => takeBlock(block, 'growing block'),
    },
    {
      label: `Picked columns of ${formatArea(block.area)}`,
      icon: Columns3,
      onChoose: () => takeBlock(block, 'picked columns'),
    },
  ];
  const outlines = [
    ...(draft.area ? [] : blockOutlines(sheet, (block) => takeBlock(block), [], waysOf)),
    ...nameOutlines(contents, sheet.name, ({ name, area, sheet: owner }) =>
      change({ kind: 'name', name: { name, sheet: owner }, area }),
    ),
    ...chartOutlines(
      sourceId,
      contents,
      sheet.name,
      (name) => `The chart ${name}`,
      (chart) =>
        change({
          kind: 'chart',
          chart: { id: chart.id, sheet: chart.sheet },
          area: cellsUnder(chart, sheet.name),
        }),
    ),
  ];
  return { draft, sheet, change, take, type, typed, outlines };
}

/** The cells of a sheet that a chart is drawn from, as one range. */
function cellsUnder(chart: SourceChart, sheet: string): Area | null {
  const areas = cellsOfChart(chart)
    .filter((cells) => cells.sheet.toLowerCase() === sheet.toLowerCase())
    .flatMap((cells) => cells.areas);
  return areas.length === 0 ? null : areas.reduce(union);
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
