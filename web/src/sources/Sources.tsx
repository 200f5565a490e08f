import { can, type SourceContents, type SourceFolder, type SourceUse } from '@tether/contract';
import { type Area, describeReach, formatArea, parseReference } from '@tether/core';
import { FolderPlus } from 'lucide-react';
import { useState } from 'react';
import { Link, useNavigate, useParams, useSearchParams } from 'react-router';
import {
  faultOf,
  useContentsQuery,
  useMeQuery,
  useSourcesQuery,
  useUsesQuery,
} from '../state/api.ts';
import { useMayChange } from '../state/useMayChange.ts';
import { Button } from '../ui/Button.tsx';
import { FaultNote } from '../ui/FaultNote.tsx';
import { Warnings } from '../ui/Warnings.tsx';
import { AddFolder } from './AddFolder.tsx';
import { ChartPreview } from './ChartPreview.tsx';
import { DelimitedReadingPanel } from './DelimitedReadingPanel.tsx';
import { useEntering } from './entering/useEntering.ts';
import { Waiting } from './entering/Waiting.tsx';
import { FolderActions } from './FolderActions.tsx';
import { blockOutlines, chartOutlines, nameOutlines } from './outlines.tsx';
import { FindAgain } from './relink/FindAgain.tsx';
import { RelinkBox } from './relink/RelinkBox.tsx';
import { SheetGrid } from './SheetGrid.tsx';
import { SheetRulesList } from './SheetRulesList.tsx';
import { SheetTabs } from './SheetTabs.tsx';
import { SourceList } from './SourceList.tsx';
import { SourceModeSection } from './SourceModeSection.tsx';
import { useCellCopy } from './useCellCopy.ts';

/** The sources: folders and files, the sheets as they are, and where their cells are used. */
export default function Sources() {
  const { id } = useParams();
  const [query] = useSearchParams();
  const navigate = useNavigate();
  const { data: folders = [] } = useSourcesQuery();
  const { data: me } = useMeQuery();
  const { isAllowed } = useMayChange();
  const [isAdding, setAdding] = useState(false);
  const isOwner = me !== undefined && can(me, 'change', { kind: 'source folder' });
  return (
    <main className="flex h-full">
      <title>Sources · Obedient Tether</title>
      <h1 className="sr-only">Sources</h1>
      <h2 className="sr-only">Source folders</h2>
      <SourceList
        folders={folders}
        usedIds={new Set()}
        chosen={id ?? null}
        onChoose={(chosen, sheet) =>
          void navigate(
            `/sources/${chosen}${sheet === undefined ? '' : `?${new URLSearchParams({ sheet })}`}`,
          )
        }
        actions={(folder) =>
          isAllowed ? <FolderActions folder={folder} isOwner={isOwner} /> : null
        }
        footer={
          isOwner ? (
            <Button onClick={() => setAdding(true)} className="w-full">
              <FolderPlus size={15} aria-hidden /> Add a folder
            </Button>
          ) : null
        }
      />
      {isAdding && <AddFolder onClose={() => setAdding(false)} />}
      {id ? (
        <Source key={`${id} ${query}`} id={id} />
      ) : (
        <p className="m-auto max-w-sm text-center text-muted">
          Choose a source to see its sheets, and which documents use which cells.
        </p>
      )}
    </main>
  );
}

function Source({ id }: { id: string }) {
  const { data: contents, error } = useContentsQuery(id);
  const { data: folders = [] } = useSourcesQuery();
  const source = folders.flatMap(({ sources }) => sources).find((each) => each.id === id);
  if (error) {
    return (
      <div className="flex-1 p-6">
        <FaultNote fault={faultOf(error)} />
        {source?.state === 'missing' && <FindAgain source={source} />}
      </div>
    );
  }
  if (!contents) {
    return (
      <p className="m-auto text-muted" role="status">
        Opening the source …
      </p>
    );
  }
  return <OpenSource id={id} contents={contents} />;
}

/** So many odd places are listed. */
const SHOWN_ODDITIES = 8;

function OpenSource({ id, contents }: { id: string; contents: SourceContents }) {
  const { data: uses = [] } = useUsesQuery(id, { refetchOnMountOrArgChange: true });
  const { data: folders = [] } = useSourcesQuery();
  const { data: me } = useMeQuery();
  const { whyNot } = useMayChange();
  const mayType = me !== undefined && can(me, 'change', { kind: 'source file' });
  const [query] = useSearchParams();
  const [ownSheet, setSheetName] = useState<string | null>(null);
  const [chartId, setChartId] = useState<string | null>(null);
  const [selection, setSelection] = useState<Area | null>(() => areaOf(query.get('cells')));
  const navigate = useNavigate();
  const sheetName = ownSheet ?? query.get('sheet');
  const sheet =
    contents.sheets.find(({ name }) => name === sheetName) ??
    contents.sheets.find(({ state }) => state === 'visible') ??
    contents.sheets[0]!;
  // Where cells are used already that says enough; the name stands at the right.
  const used = uses.filter((use) => use.sheet === sheet.name).map(({ area }) => area);
  const onArea = ({ area }: { area: Area }) => setSelection(area);
  const names = nameOutlines(contents, sheet.name, onArea, used);
  const source = folders.flatMap(({ sources }) => sources).find((each) => each.id === id);
  const path = source?.path ?? '';
  const { copy } = useCellCopy({ sourceId: id, path, sheet: sheet.name }, contents.hash, selection);
  const entering = useEntering({ sourceId: id, hash: contents.hash, sheet: sheet.name }, mayType);
  const show = (where: { sheet: string; area: Area }) => {
    setSheetName(where.sheet);
    setSelection(where.area);
  };
  const outlines = [
    ...uses
      .filter((use) => use.sheet === sheet.name)
      .map((use) => ({
        ...{ key: use.tetherId, area: use.area, label: use.document.name, kind: 'use' as const },
        onChoose: () => void navigate(placeOf(use)),
      })),
    ...names,
    ...blockOutlines(sheet, onArea, [...names.map(({ area }) => area), ...used]),
    ...chartOutlines(
      id,
      contents,
      sheet.name,
      (name) => `Chart: ${name}`,
      ({ id: chart }) => setChartId(chart),
    ),
  ];
  return (
    <>
      <div className="flex min-w-0 flex-1 flex-col gap-2 p-3">
        <SheetTabs
          sheets={contents.sheets}
          chosen={sheet}
          onChoose={(name) => {
            setSheetName(name);
            setSelection(null);
          }}
        />
        {sheet.fault && <FaultNote fault={sheet.fault} />}
        <SheetGrid
          key={`${id} ${sheet.name}`}
          sourceId={id}
          hash={contents.hash}
          sheet={sheet.name}
          used={sheet.usedArea}
          rows={sheet.rows}
          selection={selection}
          onSelect={setSelection}
          onCopy={copy}
          cells={{ entering }}
          outlines={outlines}
        />
      </div>
      <aside
        aria-label="About this source"
        className="flex w-[300px] shrink-0 flex-col gap-5 overflow-auto border-l border-hairline bg-white p-4"
      >
        <Waiting
          sourceId={id}
          hash={contents.hash}
          isAllowed={mayType}
          whyNot={whyNot}
          onShow={show}
        />
        <WhereUsed source={source} uses={uses} onShow={show} />
        <SourceModeSection sourceId={id} />
        {contents.delimited && <DelimitedReadingPanel sourceId={id} guess={contents.delimited} />}
        {contents.charts.length > 0 && (
          <ChartsOf
            id={id}
            contents={contents}
            chartId={chartId}
            onChart={setChartId}
            onSheet={setSheetName}
          />
        )}
        <NamesOf contents={contents} onShow={show} />
        <BlocksOf sheet={sheet} onSelect={setSelection} />
        {sheet.rules && <Oddities rules={sheet.rules} />}
        {sheet.rules && <SheetRulesList sheet={sheet.name} rules={sheet.rules} />}
      </aside>
    </>
  );
}

/** The documents that use this source, and which cells of it. */
function WhereUsed(props: {
  source: SourceFolder['sources'][number] | undefined;
  uses: readonly SourceUse[];
  onShow: (where: SourceUse) => void;
}) {
  const { source, uses, onShow } = props;
  const { isAllowed, whyNot } = useMayChange();
  const [isRelinking, setRelinking] = useState(false);
  return (
    <section>
      <h2 className="text-[15px] font-semibold">Where used</h2>
      {uses.length === 0 && <p className="text-muted">No document uses this source.</p>}
      <ul className="divide-y divide-hairline">
        {uses.map((use) => (
          <li key={use.tetherId} className="py-2">
            <Link to={placeOf(use)} className="font-semibold hover:underline">
              {use.name}
            </Link>
            <p className="text-muted">in {use.document.name}</p>
            <button
              type="button"
              className="font-mono text-[12px] underline decoration-hairline"
              onClick={() => onShow(use)}
              title="Show these cells"
            >
              {describeReach(use.reach)}
            </button>
          </li>
        ))}
      </ul>
      {uses.length > 0 && source && (
        <Button
          className="mt-1"
          disabled={!isAllowed}
          title={whyNot}
          onClick={() => setRelinking(true)}
        >
          Tie them to another file …
        </Button>
      )}
      {isRelinking && source && <RelinkBox source={source} onClose={() => setRelinking(false)} />}
    </section>
  );
}

/** The charts of a source; the chosen one is drawn. */
function ChartsOf(props: {
  id: string;
  contents: SourceContents;
  chartId: string | null;
  onChart: (id: string | null) => void;
  onSheet: (name: string) => void;
}) {
  const { id, contents, chartId, onChart, onSheet } = props;
  const chart = contents.charts.find((each) => each.id === chartId);
  return (
    <section aria-labelledby="charts">
      <h2 id="charts" className="text-[15px] font-semibold">
        Charts
      </h2>
      <ul>
        {contents.charts.map((each) => (
          <li key={each.id} className="py-0.5">
            <button
              type="button"
              aria-expanded={each.id === chartId}
              className="font-semibold underline decoration-hairline"
              onClick={() => {
                onChart(each.id === chartId ? null : each.id);
                if (each.place) onSheet(each.sheet);
              }}
            >
              {each.name}
            </button>{' '}
            <span className="text-muted">
              {each.place ? `on ${each.sheet}` : 'a sheet of its own'}
            </span>
          </li>
        ))}
      </ul>
      {chart && <ChartPreview sourceId={id} hash={contents.hash} chart={chart} />}
    </section>
  );
}

function NamesOf(props: {
  contents: SourceContents;
  onShow: (where: { sheet: string; area: Area }) => void;
}) {
  const { contents, onShow } = props;
  return (
    <section>
      <h2 className="text-[15px] font-semibold">Names and tables</h2>
      {contents.names.length + contents.tables.length === 0 && (
        <p className="text-muted">None in this source.</p>
      )}
      <ul>
        {contents.tables.map((table) => (
          <Named key={table.name} name={table.name} where={table} onShow={onShow} />
        ))}
        {contents.names.map((name) => (
          <Named
            key={`${name.sheet}!${name.name}`}
            name={name.name}
            where={name.area}
            refersTo={name.refersTo}
            onShow={onShow}
          />
        ))}
      </ul>
    </section>
  );
}

/** The blocks of cells that stand together on a sheet. */
function BlocksOf(props: {
  sheet: SourceContents['sheets'][number];
  onSelect: (area: Area) => void;
}) {
  const { sheet, onSelect } = props;
  return (
    <section>
      <h2 className="text-[15px] font-semibold">Blocks on {sheet.name}</h2>
      {sheet.blocks.length === 0 && (
        <p className="text-muted">
          {sheet.fault ? 'Its cells cannot be read.' : 'The sheet is empty.'}
        </p>
      )}
      <ul>
        {sheet.blocks.map((block) => (
          <li key={formatArea(block.area)}>
            <button
              type="button"
              className="underline decoration-hairline"
              onClick={() => onSelect(block.area)}
            >
              <span className="font-mono text-[12px]">{formatArea(block.area)}</span>
            </button>{' '}
            <span className="text-muted">
              {block.filled} {block.filled === 1 ? 'cell' : 'cells'}
            </span>
          </li>
        ))}
      </ul>
    </section>
  );
}

/** What is unusual in the file, and how it was read all the same. */
function Oddities({ rules }: { rules: NonNullable<SourceContents['sheets'][number]['rules']> }) {
  if (rules.oddities.length === 0) return null;
  return (
    <section>
      <h2 className="text-[15px] font-semibold">Unusual in this file</h2>
      <Warnings
        warnings={rules.oddities.slice(0, SHOWN_ODDITIES).map((odd) => ({ ...odd, code: 'odd' }))}
      />
      {rules.oddities.length > SHOWN_ODDITIES && (
        <p className="mt-1 text-muted">and {rules.oddities.length - SHOWN_ODDITIES} more</p>
      )}
    </section>
  );
}

function Named(props: {
  name: string;
  where: { sheet: string; area: Area } | null;
  refersTo?: string;
  onShow: (where: { sheet: string; area: Area }) => void;
}) {
  const { name, where, refersTo, onShow } = props;
  return (
    <li className="py-0.5">
      {where ? (
        <button
          type="button"
          className="font-semibold underline decoration-hairline"
          onClick={() => onShow(where)}
        >
          {name}
        </button>
      ) : (
        <>
          <span className="font-semibold">{name}</span>
          <span className="block text-muted">
            is a formula, which cannot be followed: <code className="text-[11px]">{refersTo}</code>
          </span>
        </>
      )}
    </li>
  );
}

/** The area that an address names; null for none. */
function areaOf(text: string | null): Area | null {
  const parsed = parseReference(text ?? '');
  return parsed.ok ? parsed.value.area : null;
}

function placeOf({ document, tetherId }: SourceUse): string {
  return `/documents/${document.id}?object=${tetherId}`;
}
