import { useState } from 'react';
import { useParams } from 'react-router';
import { KIND_SCREENS } from '../kinds/kinds.tsx';
import { faultOf, useDocumentQuery } from '../state/api.ts';
import { FaultNote } from '../ui/FaultNote.tsx';

/** A document as it will be printed. */
export default function PrintRoute() {
  const { id = '' } = useParams();
  const [since] = useState(() => Date.now());
  const {
    data: saved,
    error,
    fulfilledTimeStamp = 0,
  } = useDocumentQuery(id, { refetchOnMountOrArgChange: true });
  if (error && !saved) {
    return (
      <main className="mx-auto max-w-xl p-8">
        <FaultNote fault={faultOf(error)} />
      </main>
    );
  }
  // What was known of it before may be what it said then.
  if (!saved || saved.id !== id || fulfilledTimeStamp < since) return null;
  const { Print } = KIND_SCREENS[saved.kind];
  return <Print key={id} saved={saved} />;
}
