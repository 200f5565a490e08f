import type { SourceFolder } from '@tether/contract';
import { type FormEvent, useState } from 'react';
import { faultOf, useChangeFolderMutation, useFolderElsewhereQuery } from '../state/api.ts';
import { Button } from '../ui/Button.tsx';
import { FaultNote } from '../ui/FaultNote.tsx';
import { TextField } from '../ui/fields/TextField.tsx';
import { Tick } from '../ui/fields/Tick.tsx';
import { QuestionBox } from '../ui/QuestionBox.tsx';
import { useSettled } from '../ui/useSettled.ts';
import { PlaceBrowser } from './PlaceBrowser.tsx';

/** Says where a folder lies now, once for everything in it, and what happens to files that went from it. */
export function FolderPlaceBox({ folder, onClose }: { folder: SourceFolder; onClose: () => void }) {
  const [at, setAt] = useState<string | null>(folder.state === 'offline' ? null : folder.root);
  const [path, setPath] = useState(folder.root);
  const [follows, setFollows] = useState(folder.followsCertain);
  const [change, { isLoading, error }] = useChangeFolderMutation();
  const isElsewhere = path.trim() !== folder.root;
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    const changed = await change({
      id: folder.id,
      followsCertain: follows,
      ...(isElsewhere ? { path: path.trim() } : {}),
    });
    if (!changed.error) onClose();
  };
  const goTo = (next: string | null) => {
    setAt(next);
    if (next) setPath(next);
  };
  return (
    <QuestionBox title={`Where ${folder.name} is`} onClose={onClose}>
      <form onSubmit={(event) => void submit(event)} className="flex flex-col gap-3">
        <p className="text-muted">
          Files are found by their place below the folder. If the whole folder was moved, say so
          here, once for everything in it.
        </p>
        <PlaceBrowser at={at} onGo={goTo} />
        <TextField
          label="Path on the server"
          isAddress
          value={path}
          onChange={setPath}
          spellCheck={false}
        />
        {isElsewhere && path.trim() !== '' && <Elsewhere id={folder.id} path={path.trim()} />}
        <Tick isOn={follows} onChange={setFollows}>
          A file that went and was changed is followed where that is certain
        </Tick>
        {error && <FaultNote fault={faultOf(error)} />}
        <div className="flex justify-end gap-2">
          <Button onClick={onClose}>Leave it</Button>
          <Button
            kind="primary"
            type="submit"
            disabled={
              isLoading || path.trim() === '' || (!isElsewhere && follows === folder.followsCertain)
            }
          >
            {isElsewhere ? 'It is there now' : 'Keep this'}
          </Button>
        </div>
      </form>
    </QuestionBox>
  );
}

/** What of its files is found at another place. */
function Elsewhere({ id, path }: { id: string; path: string }) {
  const settled = useSettled(path, 300);
  const { data: seen, error, isFetching } = useFolderElsewhereQuery({ id, path: settled });
  if (isFetching || settled !== path) return <p role="status">Checking what is there …</p>;
  if (error) return <FaultNote fault={faultOf(error)} />;
  if (!seen) return null;
  if (seen.tied === 0) return <p>Nothing is tied to a file of it.</p>;
  return (
    <div>
      <p className={seen.missing.length > 0 ? 'text-rope-dark' : ''}>
        {seen.there} of {seen.tied} files in use lie there.
      </p>
      {seen.missing.length > 0 && (
        <p className="text-muted">Not there: {seen.missing.slice(0, 8).join(', ')}</p>
      )}
    </div>
  );
}
