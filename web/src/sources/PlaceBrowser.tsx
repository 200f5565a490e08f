import { CornerLeftUp, Folder } from 'lucide-react';
import { faultOf, usePlacesQuery } from '../state/api.ts';
import { FaultNote } from '../ui/FaultNote.tsx';

/** The folders of the server, to go up and down in. */
export function PlaceBrowser(props: { at: string | null; onGo: (path: string | null) => void }) {
  const { at, onGo } = props;
  const { data: place, error: placeError } = usePlacesQuery(at, {
    refetchOnMountOrArgChange: true,
  });
  const row = 'flex w-full items-center gap-2 px-2 py-1 text-left hover:bg-mist';
  return (
    <div>
      <p className="mb-1 text-sm font-semibold text-muted">Folders on the server</p>
      <ul
        aria-label="Folders on the server"
        className="h-[180px] overflow-auto border border-hairline py-1"
      >
        {place && place.parent !== null && (
          <li>
            <button type="button" className={row} onClick={() => onGo(place.parent || null)}>
              <CornerLeftUp size={14} aria-hidden /> up
            </button>
          </li>
        )}
        {place?.folders.map((folder) => (
          <li key={folder}>
            <button
              type="button"
              className={row}
              onClick={() => onGo(place.path === '' ? folder : `${place.path}/${folder}`)}
            >
              <Folder size={14} aria-hidden /> {folder}
            </button>
          </li>
        ))}
        {place?.folders.length === 0 && (
          <li className="px-2 py-1 text-muted">No folders in this one.</li>
        )}
      </ul>
      {placeError && <FaultNote fault={faultOf(placeError)} className="mt-2" />}
    </div>
  );
}
