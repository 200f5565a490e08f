import { Suspense } from 'react';
import { Link, useParams } from 'react-router';
import { KIND_SCREENS } from '../kinds/kinds.tsx';
import { faultOf, useDocumentQuery } from '../state/api.ts';
import { FaultNote } from '../ui/FaultNote.tsx';

/** A document while it is presented to others; of a kind that is not, the way back. */
export default function PresentRoute() {
  const { id = '' } = useParams();
  const { data: saved, error } = useDocumentQuery(id, { refetchOnMountOrArgChange: true });
  if (error && !saved) {
    return (
      <main className="mx-auto max-w-xl p-8">
        <FaultNote fault={faultOf(error)} />
      </main>
    );
  }
  if (!saved || saved.id !== id) return null;
  const { Present } = KIND_SCREENS[saved.kind];
  if (!Present) {
    return (
      <main className="mx-auto max-w-xl p-8">
        <p>“{saved.name}” is no document that is presented.</p>
        <Link to={`/documents/${id}`} className="underline">
          To the document
        </Link>
      </main>
    );
  }
  return (
    <Suspense>
      <Present key={id} saved={saved} />
    </Suspense>
  );
}
