import type { DocumentDetail, Tether } from '@tether/contract';
import type { Editor } from '@tiptap/react';
import { useEffect, useMemo, useRef, useState } from 'react';
import { useParams, useSearchParams } from 'react-router';
import { faultOf, useDocumentQuery, useTethersQuery } from '../app/api.ts';
import { useAppDispatch, useAppSelector } from '../app/store.ts';
import { Place } from '../place/Place.tsx';
import { insertObject, selectObject } from '../report/objectCommands.ts';
import { ReportEditor } from '../report/ReportEditor.tsx';
import { useAutosave } from '../report/useAutosave.ts';
import { FaultNote } from '../ui/FaultNote.tsx';
import { ChangeStrip } from './ChangeStrip.tsx';
import { ConflictNote } from './ConflictNote.tsx';
import { DocumentHeader } from './DocumentHeader.tsx';
import { Panel } from './Panel.tsx';
import { documentOpened, stripOpened } from './workbenchSlice.ts';

/** One document with everything around it. */
export default function Workbench() {
  const { id = '' } = useParams();
  const { data: saved, error } = useDocumentQuery(id, { refetchOnMountOrArgChange: true });
  const { data: tethers } = useTethersQuery(id, { refetchOnMountOrArgChange: true });
  if (error && !saved) {
    return (
      <main className="mx-auto max-w-xl p-8">
        <FaultNote fault={faultOf(error)} />
      </main>
    );
  }
  // The editor must know the document's objects before it can tell copies from originals.
  if (!saved || saved.id !== id || !tethers) return null;
  return <OpenDocument key={id} saved={saved} tethers={tethers} />;
}

function OpenDocument({ saved, tethers }: { saved: DocumentDetail; tethers: Tether[] }) {
  const dispatch = useAppDispatch();
  const [editor, setEditor] = useState<Editor | null>(null);
  /** Placing a new object, or changing what this one takes. */
  const [placing, setPlacing] = useState<'new' | Tether | null>(null);
  const { state: saveState, loadTheirs } = useAutosave(editor, saved);
  const { inText, selected } = useAppSelector(({ workbench }) => workbench);
  const [query] = useSearchParams();

  const objects = useMemo(() => {
    const byId = new Map(tethers.map((tether) => [tether.id, tether]));
    return inText.flatMap((id) => byId.get(id) ?? []);
  }, [tethers, inText]);
  const behind = objects.filter(({ standing }) => standing === 'behind');

  // Opening a document with objects that are behind asks once what to do about them.
  const hasAsked = useRef(false);
  useEffect(() => {
    dispatch(documentOpened());
  }, [dispatch]);
  useEffect(() => {
    if (hasAsked.current || !editor || objects.length === 0) return;
    hasAsked.current = true;
    if (behind.length > 0) dispatch(stripOpened({ reason: 'opening', only: null }));
    const wanted = query.get('object');
    if (wanted) selectObject(editor, wanted);
  }, [editor, objects, behind.length, dispatch, query]);

  return (
    <div className="flex h-full flex-col">
      <title>{`${saved.name} · Obedient Tether`}</title>
      <DocumentHeader
        saved={saved}
        objects={objects}
        saveState={saveState}
        onPlace={() => setPlacing('new')}
      />
      {saveState.kind === 'conflict' && editor && (
        <ConflictNote
          fault={saveState.fault}
          editor={editor}
          documentId={saved.id}
          loadTheirs={loadTheirs}
        />
      )}
      <div className="flex min-h-0 flex-1">
        <main className="flex min-w-0 flex-1 flex-col">
          <ReportEditor saved={saved} onEditor={setEditor} />
          <ChangeStrip
            behind={behind}
            onShow={(tetherId) => editor && selectObject(editor, tetherId)}
          />
        </main>
        <Panel
          editor={editor}
          selected={objects.find(({ id }) => id === selected) ?? null}
          objects={objects}
          onChangeReach={setPlacing}
        />
      </div>
      {placing !== null && (
        <Place
          documentId={saved.id}
          changing={placing === 'new' ? null : placing}
          onClose={() => setPlacing(null)}
          onPlaced={(tether) => {
            setPlacing(null);
            if (editor && placing === 'new') insertObject(editor, tether.id, tether.form);
          }}
        />
      )}
    </div>
  );
}
