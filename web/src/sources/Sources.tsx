import type { SourceUse } from '@tether/contract';
import { type Area, describeReach, formatArea } from '@tether/core';
import { useState } from 'react';
import { Link, useNavigate, useParams } from 'react-router';
import { faultOf, useContentsQuery, useSourcesQuery, useUsesQuery } from '../app/api.ts';
import { FaultNote } from '../ui/FaultNote.tsx';
import { SheetGrid } from './SheetGrid.tsx';
import { SheetTabs } from './SheetTabs.tsx';
import { SourceList } from './SourceList.tsx';

/** The sources: folders and files, the sheets as they are, and where their cells are used. */
export default function Sources() {
  const { id } = useParams();
  const navigate = useNavigate();
  const { data: folders = [] } = useSourcesQuery();
  return (
    <main className="flex h-full">
      <title>Sources · Obedient Tether</title>
      <h1 className="sr-only">Sources</h1>
      <SourceList
        folders={folders}
        usedIds={new Set()}
        chosen={id ?? null}
        onChoose={(chosen) => void navigate(`/sources/${chosen}`)}
      />
      {id ? (
        <Source key={id} id={id} />
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
  const { data: uses = [] } = useUsesQuery(id, { refetchOnMountOrArgChange: true });
  const [sheetName, setSheetName] = useState<string | null>(null);
  const [selection, setSelection] = useState<Area | null>(null);
  const navigate = useNavigate();
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
        Opening the source …
      </p>
    );
  }
  const sheet =
    contents.sheets.find(({ name }) => name === sheetName) ??
    contents.sheets.find(({ state }) => state === 'visible') ??
    contents.sheets[0]!;
  const show = (where: { sheet: string; area: Area }) => {
    setSheetName(where.sheet);
    setSelection(where.area);
  };
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
        <SheetGrid
          key={sheet.name}
          sourceId={id}
          hash={contents.hash}
          sheet={sheet.name}
          used={sheet.usedArea}
          selection={selection}
          onSelect={setSelection}
          outlines={uses
            .filter((use) => use.sheet === sheet.name)
            .map((use) => ({
              key: use.tetherId,
              area: use.area,
              label: use.document.name,
              kind: 'use' as const,
              onChoose: () => void navigate(placeOf(use)),
            }))}
        />
      </div>
      <aside
        aria-label="About this source"
        className="flex w-[300px] shrink-0 flex-col gap-5 overflow-auto border-l border-hairline bg-white p-4"
      >
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
                  onClick={() => show(use)}
                  title="Show these cells"
                >
                  {describeReach(use.reach)}
                </button>
              </li>
            ))}
          </ul>
        </section>
        <section>
          <h2 className="text-[15px] font-semibold">Names and tables</h2>
          {contents.names.length + contents.tables.length === 0 && (
            <p className="text-muted">None in this source.</p>
          )}
          <ul>
            {contents.tables.map((table) => (
              <Named key={table.name} name={table.name} where={table} onShow={show} />
            ))}
            {contents.names.map((name) => (
              <Named
                key={`${name.sheet}!${name.name}`}
                name={name.name}
                where={name.area}
                refersTo={name.refersTo}
                onShow={show}
              />
            ))}
          </ul>
        </section>
        <section>
          <h2 className="text-[15px] font-semibold">Blocks on {sheet.name}</h2>
          {sheet.blocks.length === 0 && <p className="text-muted">The sheet is empty.</p>}
          <ul>
            {sheet.blocks.map((block) => (
              <li key={formatArea(block.area)}>
                <button
                  type="button"
                  className="underline decoration-hairline"
                  onClick={() => setSelection(block.area)}
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
      </aside>
    </>
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

function placeOf({ document, tetherId }: SourceUse): string {
  return `/documents/${document.id}?object=${tetherId}`;
}
