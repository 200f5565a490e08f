import { CornerLeftUp, Folder } from 'lucide-react';
import { type FormEvent, useState } from 'react';
import { faultOf, useAddFolderMutation, usePlacesQuery } from '../state/api.ts';
import { Button } from '../ui/Button.tsx';
import { FaultNote } from '../ui/FaultNote.tsx';
import { QuestionBox } from '../ui/QuestionBox.tsx';
import { TextField } from '../ui/TextField.tsx';

/** Adds a folder of the server to the source folders: browsed to, or typed. */
export function AddFolder({ onClose }: { onClose: () => void }) {
  const [at, setAt] = useState<string | null>(null);
  const { data: place, error: placeError } = usePlacesQuery(at, {
    refetchOnMountOrArgChange: true,
  });
  const [typed, setTyped] = useState<string | null>(null);
  const [ownName, setOwnName] = useState<string | null>(null);
  const [add, { isLoading, error }] = useAddFolderMutation();
  const path = typed ?? place?.path ?? '';
  const name = ownName ?? nameFrom(path);
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    const added = await add({ name: name.trim(), path: path.trim() });
    if (!added.error) onClose();
  };
  const goTo = (next: string | null) => {
    setAt(next);
    setTyped(null);
  };
  const row = 'flex w-full items-center gap-2 px-2 py-1 text-left hover:bg-mist';
  return (
    <QuestionBox title="Add a source folder" onClose={onClose}>
      <form onSubmit={(event) => void submit(event)} className="flex flex-col gap-3">
        <div>
          <p className="mb-1 text-sm font-semibold text-muted">Folders on the server</p>
          <ul
            aria-label="Folders on the server"
            className="h-[180px] overflow-auto border border-hairline py-1"
          >
            {place && place.parent !== null && (
              <li>
                <button type="button" className={row} onClick={() => goTo(place.parent || null)}>
                  <CornerLeftUp size={14} aria-hidden /> up
                </button>
              </li>
            )}
            {place?.folders.map((folder) => (
              <li key={folder}>
                <button
                  type="button"
                  className={row}
                  onClick={() => goTo(place.path === '' ? folder : `${place.path}/${folder}`)}
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
        <TextField
          label="Path on the server"
          isAddress
          value={path}
          isSuggested={typed === null}
          onChange={setTyped}
          spellCheck={false}
        />
        <TextField
          label="Name"
          value={name}
          isSuggested={ownName === null}
          onChange={setOwnName}
          maxLength={80}
        />
        {error && <FaultNote fault={faultOf(error)} />}
        <div className="flex justify-end gap-2">
          <Button onClick={onClose}>Cancel</Button>
          <Button
            kind="primary"
            type="submit"
            disabled={isLoading || path.trim() === '' || name.trim() === ''}
          >
            Add it
          </Button>
        </div>
      </form>
    </QuestionBox>
  );
}

/** A name suggested from the folder's own: `level-survey` becomes `Level survey`. */
function nameFrom(path: string): string {
  const last =
    path
      .replace(/[/\\]+$/, '')
      .split(/[/\\]/)
      .at(-1) ?? '';
  const words = last.replace(/[-_]+/g, ' ').trim();
  return words.charAt(0).toUpperCase() + words.slice(1);
}
