import type { DocumentContent, DocumentDetail } from '@tether/contract';
import type { Fault } from '@tether/core';
import type { Editor } from '@tiptap/react';
import { useCallback, useEffect, useRef, useState } from 'react';
import { faultOf, useSaveDocumentMutation } from '../app/api.ts';
import { forgetDraft, keepDraft, readDraft } from './draft.ts';
import { REMOTE_TEXT } from './placedObjectNode.ts';

const QUIET_MS = 600;
const RETRY_MS = 3_000;

/** How the text stands to what the server has. */
export type SaveState =
  | { kind: 'saved' }
  | { kind: 'writing' }
  | { kind: 'failed'; fault: Fault }
  /** Somebody else saved meanwhile: nothing is sent until the person decides. */
  | { kind: 'conflict'; fault: Fault };

/**
 * Saves the text a moment after each change, upon the version it was written on, and keeps a draft in the browser until
 * the server has it. Text saved elsewhere comes in by itself while nothing unsaved is here; otherwise the person decides.
 */
export function useAutosave(editor: Editor | null, saved: DocumentDetail) {
  const [state, setState] = useState<SaveState>({ kind: 'saved' });
  const [save] = useSaveDocumentMutation();
  const version = useRef(saved.version);
  const isDirty = useRef(false);
  const isSaving = useRef(false);
  const isHeld = useRef(false);
  const timer = useRef<number>(undefined);
  const latest = useRef(saved);
  latest.current = saved;
  const { id } = saved;

  const loadText = useCallback(
    (content: DocumentContent, { undoable }: { undoable: boolean }) => {
      editor
        ?.chain()
        .command(({ tr }) => {
          tr.setMeta(REMOTE_TEXT, true);
          if (!undoable) tr.setMeta('addToHistory', false);
          return true;
        })
        .setContent(content, { emitUpdate: false })
        .run();
    },
    [editor],
  );

  const takeNewer = useCallback(() => {
    const newer = latest.current;
    if (newer.version <= version.current || isDirty.current || isSaving.current) return;
    version.current = newer.version;
    loadText(newer.content, { undoable: false });
  }, [loadText]);

  const saveNow = useCallback(async () => {
    window.clearTimeout(timer.current);
    if (!editor || isSaving.current || isHeld.current || !isDirty.current) return;
    isSaving.current = true;
    isDirty.current = false;
    const content = editor.getJSON() as DocumentContent;
    const result = await save({ id, version: version.current, content });
    isSaving.current = false;
    if (!result.error) {
      version.current = result.data.version;
      if (isDirty.current) timer.current = window.setTimeout(() => void saveNow(), QUIET_MS);
      else {
        forgetDraft(id);
        setState({ kind: 'saved' });
        takeNewer();
      }
      return;
    }
    isDirty.current = true;
    const fault = faultOf(result.error);
    if (fault.code === 'document-saved-elsewhere') {
      isHeld.current = true;
      setState({ kind: 'conflict', fault });
    } else {
      setState({ kind: 'failed', fault });
      timer.current = window.setTimeout(() => void saveNow(), RETRY_MS);
    }
  }, [editor, id, save, takeNewer]);

  const touch = useCallback(() => {
    if (!editor) return;
    isDirty.current = true;
    keepDraft(id, { version: version.current, content: editor.getJSON() as DocumentContent });
    if (isHeld.current) return;
    setState({ kind: 'writing' });
    window.clearTimeout(timer.current);
    timer.current = window.setTimeout(() => void saveNow(), QUIET_MS);
  }, [editor, id, saveNow]);

  useEffect(() => {
    if (!editor) return;
    const onUpdate = () => touch();
    editor.on('update', onUpdate);
    return () => {
      editor.off('update', onUpdate);
    };
  }, [editor, touch]);

  // Text that a closed window left unsaved comes back, as one step that undo can take away again.
  useEffect(() => {
    if (!editor) return;
    const draft = readDraft(id);
    if (!draft) return;
    version.current = draft.version;
    loadText(draft.content, { undoable: true });
    touch();
  }, [editor, id, loadText, touch]);

  // biome-ignore lint/correctness/useExhaustiveDependencies: a new version is what calls for a look
  useEffect(() => takeNewer(), [saved.version, takeNewer]);

  useEffect(() => {
    const onLeaving = (event: BeforeUnloadEvent) => {
      if (isDirty.current) event.preventDefault();
    };
    window.addEventListener('beforeunload', onLeaving);
    return () => {
      window.removeEventListener('beforeunload', onLeaving);
      // Going to another page saves at once what was just written.
      void saveNow();
    };
  }, [saveNow]);

  /** Loads what was saved elsewhere; undo brings this person's text back, upon the new version. */
  const loadTheirs = useCallback(
    (theirs: DocumentDetail) => {
      version.current = theirs.version;
      isHeld.current = false;
      isDirty.current = false;
      forgetDraft(id);
      loadText(theirs.content, { undoable: true });
      setState({ kind: 'saved' });
    },
    [id, loadText],
  );

  return { state, saveNow, loadTheirs };
}
