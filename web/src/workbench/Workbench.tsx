import { can, type DocumentDetail, type Tether } from '@tether/contract';
import { type Fault, fault } from '@tether/core';
import { type DocumentContent, kindOf } from '@tether/documents';
import { Suspense, useEffect, useMemo, useRef, useState } from 'react';
import { Group, Separator, Panel as Split } from 'react-resizable-panels';
import { Link, useParams, useSearchParams } from 'react-router';
import { Alongside } from '../alongside/Alongside.tsx';
import { Cords } from '../alongside/Cords.tsx';
import { OfferStrip } from '../alongside/OfferStrip.tsx';
import { useIncomingCells } from '../alongside/useIncomingCells.ts';
import { useObjectCells } from '../alongside/useObjectCells.ts';
import { useShownSheet } from '../alongside/useShownSheet.ts';
import { Comments, CommentsAround } from '../documents/comments/comments.ts';
import { BARS } from '../documents/object/part/PartBar.tsx';
import type { Surface } from '../documents/surface.ts';
import { apart } from '../documents/writing/apart.ts';
import type { SharedDocument, SharedWith } from '../documents/writing/shared-document.ts';
import { useSharedDocument } from '../documents/writing/useSharedDocument.ts';
import { KIND_SCREENS } from '../kinds/kinds.tsx';
import { Place } from '../place/Place.tsx';
import type { GridView } from '../sources/SheetGrid.tsx';
import {
  faultOf,
  useDocumentQuery,
  useMeQuery,
  useOpenedMutation,
  useTethersQuery,
} from '../state/api.ts';
import { useAppDispatch, useAppSelector } from '../state/store.ts';
import { OnlyLooking, useMayChange } from '../state/useMayChange.ts';
import {
  alongsideClosed,
  alongsideOpened,
  documentOpened,
  sourceShown,
  stripOpened,
} from '../state/workbench-slice.ts';
import { FaultNote } from '../ui/FaultNote.tsx';
import { hasChanges } from '../ui/standing-words.ts';
import { asksOnOpening, ChangeStrip } from './ChangeStrip.tsx';
import { DocumentHeader, HoldNote } from './DocumentHeader.tsx';
import { Panel } from './Panel.tsx';

/** Pixels around the line between document and source that move it: narrow, since cords begin beside it. */
const SEPARATOR_TARGET = { fine: 7, coarse: 24 };

/** One document with everything around it. */
export default function Workbench() {
  const { id = '' } = useParams();
  const { data: saved, error } = useDocumentQuery(id, { refetchOnMountOrArgChange: true });
  const { data: tethers } = useTethersQuery(id, { refetchOnMountOrArgChange: true });
  const { data: me } = useMeQuery();
  const mayWrite = me !== undefined && me !== null && can(me, 'change', { kind: 'document', id });
  const shared = useSharedDocument(id, me ?? undefined, mayWrite);
  // A document that somebody deleted is not gone on with, although this browser still has it.
  if (error && (!saved || faultOf(error).code === 'document-deleted')) {
    return (
      <main className="mx-auto max-w-xl p-8">
        <FaultNote fault={faultOf(error)} />
        <p className="mt-4 flex gap-4">
          <Link to="/" className="underline">
            To the desk
          </Link>
          <Link to="/log" className="underline">
            To the log
          </Link>
        </p>
      </main>
    );
  }
  // The editor must know the document's objects before it can tell copies from originals.
  if (!saved || saved.id !== id || !tethers || !shared) {
    return (
      <p role="status" className="p-8 text-muted">
        Opening the document …
      </p>
    );
  }
  return <KnownDocument key={id} saved={saved} tethers={tethers} shared={shared} />;
}

/** A text with something in it that is not known here is shown as far as it is known, and kept from every change. */
function KnownDocument(props: {
  saved: DocumentDetail;
  tethers: Tether[];
  shared: SharedDocument;
}) {
  const { saved, tethers, shared } = props;
  const { kind } = saved;
  const { known, unknown } = useMemo(() => {
    const content = kindOf(kind).shared.read(shared.doc) as DocumentContent;
    const part = kindOf(kind).knownPart(content);
    return { known: part.unknown.length > 0 ? apart(kind, part.content) : shared, ...part };
  }, [kind, shared]);
  const reason =
    unknown.length > 0 ? fault('text-kind-unknown', { kinds: unknown.join(', ') }) : null;
  return (
    <OnlyLooking.Provider value={reason && reason.message}>
      <OpenDocument
        saved={saved}
        tethers={tethers}
        shared={shared}
        shown={known}
        unknown={reason}
      />
    </OnlyLooking.Provider>
  );
}

function OpenDocument(props: {
  saved: DocumentDetail;
  tethers: Tether[];
  shared: SharedDocument;
  /** What is shown of it: all, or what is known here. */
  shown: SharedWith;
  unknown: Fault | null;
}) {
  const { saved, tethers, shared, shown, unknown } = props;
  const dispatch = useAppDispatch();
  const [surface, setSurface] = useState<Surface | null>(null);
  /** Placing a new object, or changing what this one takes. */
  const [placing, setPlacing] = useState<'new' | Tether | null>(null);
  const inText = useAppSelector(({ workbench }) => workbench.inText);
  const selected = useAppSelector(({ workbench }) => workbench.selected);
  const alongside = useAppSelector(({ workbench }) => workbench.alongside);
  const hasPanel = useAppSelector(({ workbench }) => workbench.hasPanel);
  const incoming = useIncomingCells(saved);

  const objects = useMemo(() => {
    const byId = new Map(tethers.map((tether) => [tether.id, tether]));
    return inText.flatMap((id) => byId.get(id) ?? []);
  }, [tethers, inText]);
  const behind = objects.filter(hasChanges);

  const comments = useComments(shared);
  const cells = useObjectCells(objects);
  const showObject = (tetherId: string) => {
    surface?.select(tetherId);
  };
  const showCells = (tether: Tether) => {
    const place = cells.get(tether.id);
    dispatch(
      sourceShown({
        sourceId: tether.source.id,
        sheet: place?.sheet ?? null,
        area: place?.area ?? null,
      }),
    );
  };
  useCellsOfSelected(objects, cells, showCells);
  useUndoKeys(surface);
  useOpening(saved, surface, objects);

  return (
    <CommentsAround.Provider value={comments}>
      <div className="flex h-full flex-col">
        <title>{`${saved.name} · Obedient Tether`}</title>
        <DocumentHeader
          saved={saved}
          objects={objects}
          shared={shared}
          onPlace={() => setPlacing('new')}
          onAlongside={() => {
            if (alongside) return dispatch(alongsideClosed());
            const from = objects.find(({ id }) => id === selected) ?? objects[0];
            dispatch(alongsideOpened({ sourceId: from?.source.id ?? null }));
          }}
        />
        <HoldNote saved={saved} />
        {unknown && (
          <FaultNote fault={unknown} className="rounded-none border-x-0 border-t-0 px-4" />
        )}
        <div className="flex min-h-0 flex-1">
          <main className="flex min-w-0 flex-1 flex-col">
            <Panes
              saved={saved}
              shared={shown}
              surface={surface}
              onSurface={setSurface}
              objects={objects}
              cells={cells}
              incoming={incoming}
              onObject={showObject}
              onCells={showCells}
            />
            {surface && <OfferStrip {...incoming} surface={surface} />}
            <LettersNote selected={objects.find(({ id }) => id === selected) ?? null} />
            <ChangeStrip saved={saved} behind={behind} surface={surface} onShow={showObject} />
          </main>
          {(!alongside || hasPanel) && (
            <Panel
              saved={saved}
              surface={surface}
              selected={objects.find(({ id }) => id === selected) ?? null}
              objects={objects}
              onChangeReach={setPlacing}
            />
          )}
        </div>
        <div id={BARS} />
        {placing !== null && (
          <Place
            documentId={saved.id}
            changing={placing === 'new' ? null : placing}
            stands={surface?.stands() ?? []}
            layers={surface?.layersForNew() ?? []}
            onClose={() => setPlacing(null)}
            onPlaced={(tether, at, layer) => {
              setPlacing(null);
              if (!surface || placing !== 'new') return;
              surface.insert(tether, at, layer);
              // The box that closes gives the focus back to the button that opened it; work goes on in the document.
              requestAnimationFrame(() => surface.focus());
            }}
          />
        )}
      </div>
    </CommentsAround.Provider>
  );
}

/** The comments of the open document, for whoever is at this window. */
function useComments(shared: SharedDocument): Comments | null {
  const { data: me } = useMeQuery();
  const { id, name } = me ?? {};
  const comments = useMemo(
    () => (id && name ? new Comments(shared.doc, { id, name }) : null),
    [shared, id, name],
  );
  useEffect(() => () => comments?.close(), [comments]);
  return comments;
}

/** The document, and its source beside it with the cords between. */
function Panes(props: {
  saved: DocumentDetail;
  shared: SharedWith;
  surface: Surface | null;
  onSurface: (surface: Surface | null) => void;
  objects: Tether[];
  cells: ReturnType<typeof useObjectCells>;
  incoming: ReturnType<typeof useIncomingCells>;
  onObject: (tetherId: string) => void;
  onCells: (tether: Tether) => void;
}) {
  const { saved, shared, surface, onSurface, objects, cells, incoming, onObject, onCells } = props;
  const { Screen } = KIND_SCREENS[saved.kind];
  const alongside = useAppSelector(({ workbench }) => workbench.alongside);
  const { isAllowed } = useMayChange();
  const shown = useShownSheet(objects);
  const [view, setView] = useState<GridView | null>(null);
  return (
    <div className="relative flex min-h-0 flex-1">
      <Group orientation="horizontal" id="panes" resizeTargetMinimumSize={SEPARATOR_TARGET}>
        <Split id="document" minSize={320} className="flex min-w-0">
          <Suspense>
            <Screen
              saved={saved}
              shared={shared}
              onSurface={onSurface}
              onCells={(cells, at) => surface && void incoming.bringIn(surface, cells, at)}
            />
          </Suspense>
        </Split>
        {alongside && (
          <>
            <Separator
              aria-label="Between document and source"
              className="w-[5px] bg-hairline hover:bg-rope focus-visible:bg-rope"
            />
            <Split id="source" defaultSize="50%" minSize={300} className="min-w-0">
              <Alongside
                objects={objects}
                shown={shown}
                cells={cells}
                onShowObject={onObject}
                onPlace={
                  isAllowed && surface
                    ? (carried) =>
                        void incoming.bringIn(surface, { kind: 'carried', cells: carried })
                    : undefined
                }
                viewRef={setView}
              />
            </Split>
          </>
        )}
      </Group>
      {alongside && surface && (
        <Cords
          surface={surface}
          objects={objects}
          cells={cells}
          view={view}
          shown={{ sourceId: shown.sourceId, sheet: shown.sheet?.name ?? null }}
          onObject={onObject}
          onCells={onCells}
        />
      )}
    </div>
  );
}

/** Who looks at an object with its source beside it sees its cells there. */
function useCellsOfSelected(
  objects: readonly Tether[],
  cells: ReadonlyMap<string, unknown>,
  showCells: (tether: Tether) => void,
): void {
  const isAlongside = useAppSelector(({ workbench }) => workbench.alongside !== null);
  const selected = useAppSelector(({ workbench }) => workbench.selected);
  const shownFor = useRef<string | null>(null);
  useEffect(() => {
    if (!isAlongside || selected === null) shownFor.current = null;
    if (!isAlongside || shownFor.current === selected) return;
    const tether = objects.find(({ id }) => id === selected);
    // An object that was just placed is not known yet.
    if (!tether || !cells.has(tether.id)) return;
    shownFor.current = selected;
    showCells(tether);
  });
}

/** What opening a document does once: it refreshes what is to be, asks about what is behind, and goes to what was asked for. */
function useOpening(saved: DocumentDetail, surface: Surface | null, objects: readonly Tether[]) {
  const dispatch = useAppDispatch();
  const [query] = useSearchParams();
  useEffect(() => {
    dispatch(documentOpened());
  }, [dispatch]);
  // What is to be refreshed on opening is, and what changes from now on is marked for this person.
  const [opened] = useOpenedMutation();
  useEffect(() => {
    void opened(saved.id);
  }, [opened, saved.id]);
  const hasAsked = useRef(false);
  useEffect(() => {
    if (hasAsked.current || !surface || objects.length === 0) return;
    hasAsked.current = true;
    const behind = objects.filter(hasChanges);
    if (!saved.hold && behind.some(asksOnOpening)) {
      dispatch(stripOpened({ reason: 'opening', only: null }));
    }
    const wanted = query.get('object');
    if (wanted) surface.select(wanted);
    if (wanted && query.has('changes')) dispatch(stripOpened({ reason: 'asked', only: wanted }));
  }, [surface, objects, saved.hold, dispatch, query]);
}

/** Undo and redo by the keyboard, also from the buttons around the text: who has pressed one means what it did. */
function useUndoKeys(surface: Surface | null): void {
  useEffect(() => {
    if (!surface) return;
    const press = (event: KeyboardEvent) => {
      const key = event.key.toLowerCase();
      if (!(event.ctrlKey || event.metaKey) || event.altKey || (key !== 'z' && key !== 'y')) return;
      // A field has an undo of its own, and so has the text; a question is answered first.
      const place = document.activeElement;
      if (
        place?.closest(
          'input:not([type=checkbox]), textarea, [contenteditable=true], [role=dialog]',
        )
      )
        return;
      event.preventDefault();
      if (key === 'y' || event.shiftKey) surface.redo();
      else surface.undo();
    };
    document.addEventListener('keydown', press);
    return () => document.removeEventListener('keydown', press);
  }, [surface]);
}

/** Said when somebody types while an object is selected. */
function LettersNote({ selected }: { selected: Tether | null }) {
  const hasRefused = useAppSelector(({ workbench }) => workbench.hasRefusedLetters);
  if (!hasRefused || !selected) return null;
  return (
    <p role="status" className="shrink-0 border-t-2 border-rope bg-white px-4 py-2">
      <b>Nothing was typed over “{selected.name}”.</b> Its figures come from {selected.source.path}:
      change them there, unlock cells under “Writing back” in the panel to correct them here, or
      change its look. Delete takes it out; in a text Enter goes on behind it.
    </p>
  );
}
