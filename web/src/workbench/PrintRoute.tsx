import { useParams } from 'react-router';
import { KIND_SCREENS } from '../kinds/kinds.tsx';
import { faultOf, useDocumentQuery } from '../state/api.ts';
import { FaultNote } from '../ui/FaultNote.tsx';

/** A document as it will be printed. */
export default function PrintRoute() {
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
  const { Print } = KIND_SCREENS[saved.kind];
  return <Print key={id} saved={saved} />;
}
