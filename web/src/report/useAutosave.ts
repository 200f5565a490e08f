import type { DocumentContent, DocumentDetail } from '@tether/contract';
import { ok } from '@tether/core';
import type { Editor } from '@tiptap/react';
import { useCallback, useEffect, useState, useSyncExternalStore } from 'react';
import { api, faultOf } from '../app/api.ts';
import { type AppDispatch, useAppDispatch } from '../app/store.ts';
import { turnInto, withoutUndo } from './bringIn.ts';
import { forgetDraft, keepDraft, readDraft } from './draft.ts';
import { REMOTE_TEXT } from './placedObjectNode.ts';
import { TextSaver } from './TextSaver.ts';

/** The savers of this window, by document: a save may still be on its way when the document is opened again. */
const savers = new Map<string, TextSaver>();

function saverOf(saved: DocumentDetail, dispatch: AppDispatch): TextSaver {
  const { id } = saved;
  const known = savers.get(id);
  if (known) return known;
  const saver = new TextSaver(saved, {
    send: async (draft) => {
      const result = await dispatch(api.endpoints.saveDocument.initiate({ id, ...draft }));
      return result.error
        ? { ok: false as const, fault: faultOf(result.error) }
        : ok(result.data.version);
    },
    keep: (draft) => keepDraft(id, draft),
    forget: () => forgetDraft(id),
  });
  savers.set(id, saver);
  return saver;
}

/**
 * Ties the editor to the document's saver. Text that a closed window left unsaved comes back; text saved elsewhere comes
 * in by itself while nothing unsaved is here; otherwise the person decides.
 */
export function useAutosave(editor: Editor | null, saved: DocumentDetail) {
  const dispatch = useAppDispatch();
  const { id } = saved;
  const [saver] = useState(() => saverOf(saved, dispatch));
  const state = useSyncExternalStore(saver.subscribe, () => saver.state);

  const loadText = useCallback(
    (content: DocumentContent, { undoable }: { undoable: boolean }) => {
      if (!editor) return;
      const { tr, schema } = editor.state;
      turnInto(tr, schema.nodeFromJSON(content));
      tr.setMeta(REMOTE_TEXT, true).setMeta('preventUpdate', true);
      if (!undoable) tr.setMeta('addToHistory', false);
      editor.view.dispatch(tr);
      if (!undoable) editor.view.updateState(withoutUndo(editor.state));
    },
    [editor],
  );

  // biome-ignore lint/correctness/useExhaustiveDependencies: the document as it was when the editor opened
  useEffect(() => {
    if (!editor) return;
    // This window may know more than the document it was just given: its last save is on its way or has just arrived.
    if (saver.isUnsaved || saver.version > saved.version) {
      loadText(saver.text, { undoable: false });
    } else {
      const draft = readDraft(id);
      if (draft) {
        saver.version = draft.version;
        // One step, so that undo can take it away again.
        loadText(draft.content, { undoable: true });
        saver.write(draft.content);
      }
    }
    const onUpdate = () => {
      // What nobody may change here is not saved, whatever the editor does by itself.
      if (editor.isEditable) saver.write(editor.getJSON() as DocumentContent);
    };
    editor.on('update', onUpdate);
    return () => {
      editor.off('update', onUpdate);
    };
  }, [editor, id, loadText, saver]);

  // biome-ignore lint/correctness/useExhaustiveDependencies: a save that ended may have kept a newer text waiting
  useEffect(() => {
    if (saver.takeNewer(saved)) loadText(saved.content, { undoable: false });
  }, [saved, saver, state, loadText]);

  useEffect(() => {
    const onLeaving = (event: BeforeUnloadEvent) => {
      if (saver.isUnsaved) event.preventDefault();
    };
    window.addEventListener('beforeunload', onLeaving);
    return () => {
      window.removeEventListener('beforeunload', onLeaving);
      // Going to another page saves at once what was just written.
      void saver.flush();
    };
  }, [saver]);

  /** Loads what was saved elsewhere. What is there now must be kept before: no undo leads back over it. */
  const loadTheirs = useCallback(
    (theirs: DocumentDetail) => {
      saver.takeTheirs(theirs);
      loadText(theirs.content, { undoable: false });
    },
    [loadText, saver],
  );

  return { state, loadTheirs };
}
