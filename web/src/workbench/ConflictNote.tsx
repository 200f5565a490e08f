import type { DocumentDetail } from '@tether/contract';
import type { Fault } from '@tether/core';
import { kindOf } from '@tether/documents';
import { useNavigate } from 'react-router';
import type { Surface } from '../documents/surface.ts';
import {
  faultOf,
  useCreateDocumentMutation,
  useDocumentQuery,
  useKeepVersionMutation,
  useMeQuery,
} from '../state/api.ts';
import { Button } from '../ui/Button.tsx';

/** Tells that somebody else saved meanwhile, and offers the two ways that lose nothing. */
export function ConflictNote(props: {
  fault: Fault;
  surface: Surface;
  documentId: string;
  loadTheirs: (theirs: DocumentDetail) => void;
}) {
  const { fault, surface, documentId, loadTheirs } = props;
  // What is known of the document may be older than what the other person saved.
  const { data: theirs, isFetching } = useDocumentQuery(documentId, {
    refetchOnMountOrArgChange: true,
  });
  const [create, { isLoading }] = useCreateDocumentMutation();
  const { data: me } = useMeQuery();
  const navigate = useNavigate();

  const [keep, { isLoading: isKeeping, error: notKept }] = useKeepVersionMutation();

  const putAside = async () => {
    if (!theirs) return;
    const content = surface.content();
    const kept = await keep({ id: documentId, why: 'put aside', content });
    // What was written here is not given up before it is kept.
    if (!kept.error) loadTheirs(theirs);
  };
  const keepAsCopy = async () => {
    if (!theirs) return;
    const content = kindOf(theirs.kind).asCopies(surface.content(), () => crypto.randomUUID());
    const made = await create({
      kind: theirs.kind,
      name: `${theirs.name} (${me?.name ?? 'own'} version)`,
      content,
    });
    if (made.error) return;
    loadTheirs(theirs);
    void navigate(`/documents/${made.data.id}`);
  };

  return (
    <div
      role="alert"
      className="flex items-center gap-3 border-b border-adrift/40 bg-white px-4 py-2"
    >
      <p className="flex-1">
        <span className="font-semibold text-adrift">{fault.message}</span>{' '}
        {notKept ? `Your text could not be kept: ${faultOf(notKept).message}` : fault.hint}
      </p>
      <Button kind="primary" disabled={isLoading || isFetching} onClick={() => void keepAsCopy()}>
        Keep mine as a copy
      </Button>
      <Button disabled={isFetching || isKeeping} onClick={() => void putAside()}>
        Load the saved one
      </Button>
    </div>
  );
}
