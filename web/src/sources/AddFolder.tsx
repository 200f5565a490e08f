import { type FormEvent, useState } from 'react';
import { faultOf, useAddFolderMutation, usePlacesQuery } from '../state/api.ts';
import { Button } from '../ui/Button.tsx';
import { FaultNote } from '../ui/FaultNote.tsx';
import { TextField } from '../ui/fields/TextField.tsx';
import { QuestionBox } from '../ui/QuestionBox.tsx';
import { PlaceBrowser } from './PlaceBrowser.tsx';

/** Adds a folder of the server to the source folders: browsed to, or typed. */
export function AddFolder({ onClose }: { onClose: () => void }) {
  const [at, setAt] = useState<string | null>(null);
  const { data: place } = usePlacesQuery(at, { refetchOnMountOrArgChange: true });
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
  return (
    <QuestionBox title="Add a source folder" onClose={onClose}>
      <form onSubmit={(event) => void submit(event)} className="flex flex-col gap-3">
        <PlaceBrowser at={at} onGo={goTo} />
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
