import type { DocumentDetail } from '@tether/contract';
import { ok } from '@tether/core';
import { useCallback, useEffect, useState, useSyncExternalStore } from 'react';
import { api, faultOf } from '../../state/api.ts';
import { type AppDispatch, useAppDispatch } from '../../state/store.ts';
import type { Surface } from '../surface.ts';
import { ContentSaver } from './content-saver.ts';
import { forgetDraft, keepDraft, readDraft } from './draft.ts';

/** The savers of this window, by document: a save may still be on its way when the document is opened again. */
const savers = new Map<string, ContentSaver>();

function saverOf(saved: DocumentDetail, dispatch: AppDispatch): ContentSaver {
  const { id } = saved;
  const known = savers.get(id);
  if (known) return known;
  const saver = new ContentSaver(saved, {
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
 * Ties the open content to the document's saver. What a closed window left unsaved comes back; what was saved elsewhere comes
 * in by itself while nothing unsaved is here; otherwise the person decides.
 */
export function useSaving(surface: Surface | null, saved: DocumentDetail) {
  const dispatch = useAppDispatch();
  const { id, kind } = saved;
  const [saver] = useState(() => saverOf(saved, dispatch));
  const state = useSyncExternalStore(saver.subscribe, () => saver.state);

  // biome-ignore lint/correctness/useExhaustiveDependencies: the document as it was when it was opened
  useEffect(() => {
    if (!surface) return;
    // This window may know more than the document it was just given: its last save is on its way or has just arrived.
    if (saver.isUnsaved || saver.version > saved.version) {
      surface.load(saver.content, { undoable: false });
    } else {
      const draft = readDraft(id, kind);
      if (draft) {
        saver.version = draft.version;
        // One step, so that undo can take it away again.
        surface.load(draft.content, { undoable: true });
        saver.write(draft.content);
      }
    }
    return surface.onWritten(() => {
      // What nobody may change here is not saved, whatever the surface does by itself.
      if (surface.isEditable) saver.write(surface.content());
    });
  }, [surface, id, saver]);

  // biome-ignore lint/correctness/useExhaustiveDependencies: a save that ended may have kept a newer text waiting
  useEffect(() => {
    if (saver.takeNewer(saved)) surface?.load(saved.content, { undoable: false });
  }, [saved, saver, state, surface]);

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
      surface?.load(theirs.content, { undoable: false });
    },
    [surface, saver],
  );

  return { state, loadTheirs };
}
