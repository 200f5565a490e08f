import { Menu, MenuButton, MenuItem, MenuItems } from '@headlessui/react';
import { MAX_UPLOAD_BYTES, type SourceFolder } from '@tether/contract';
import { type Fault, fault as faultOfCode } from '@tether/core';
import { Ellipsis } from 'lucide-react';
import { type FormEvent, useRef, useState } from 'react';
import { faultOf, useChangeFolderMutation, useRemoveFolderMutation } from '../state/api.ts';
import { type Sending as OnTheWay, sendFile } from '../state/send-file.ts';
import { Button } from '../ui/Button.tsx';
import { FaultNote } from '../ui/FaultNote.tsx';
import { TextField } from '../ui/fields/TextField.tsx';
import { QuestionBox } from '../ui/QuestionBox.tsx';
import { SendingBar } from '../ui/SendingBar.tsx';
import { sizeText } from '../ui/size-text.ts';
import { FolderPlaceBox } from './FolderPlaceBox.tsx';

/** What can be done with a source folder: put a file into it, and for its owner another name or its end. */
export function FolderActions({ folder, isOwner }: { folder: SourceFolder; isOwner: boolean }) {
  const [question, setQuestion] = useState<'rename' | 'place' | 'remove' | null>(null);
  const chooser = useRef<HTMLInputElement>(null);
  const [file, setFile] = useState<File | null>(null);
  const item =
    'block w-full px-3 py-1.5 text-left data-focus:bg-mist data-disabled:text-muted data-disabled:cursor-default';
  return (
    <>
      <Menu>
        <MenuButton
          aria-label={`Actions for ${folder.name}`}
          className="grid size-6 place-items-center rounded-box hover:bg-mist data-open:bg-mist"
        >
          <Ellipsis size={15} aria-hidden />
        </MenuButton>
        <MenuItems
          anchor="bottom end"
          className="z-30 w-[190px] rounded-box border border-hairline bg-white py-1"
        >
          <MenuItem disabled={folder.state === 'offline'}>
            <button type="button" className={item} onClick={() => chooser.current?.click()}>
              Add a file …
            </button>
          </MenuItem>
          {isOwner && (
            <>
              <MenuItem>
                <button type="button" className={item} onClick={() => setQuestion('rename')}>
                  Rename …
                </button>
              </MenuItem>
              <MenuItem>
                <button type="button" className={item} onClick={() => setQuestion('place')}>
                  Where it is …
                </button>
              </MenuItem>
              <MenuItem>
                <button type="button" className={item} onClick={() => setQuestion('remove')}>
                  Stop watching it …
                </button>
              </MenuItem>
            </>
          )}
        </MenuItems>
      </Menu>
      <input
        ref={chooser}
        type="file"
        hidden
        aria-label={`File for ${folder.name}`}
        onChange={(event) => {
          setFile(event.target.files?.[0] ?? null);
          event.target.value = '';
        }}
      />
      {file && <Sending folder={folder} file={file} onClose={() => setFile(null)} />}
      {question === 'rename' && <Rename folder={folder} onClose={() => setQuestion(null)} />}
      {question === 'place' && <FolderPlaceBox folder={folder} onClose={() => setQuestion(null)} />}
      {question === 'remove' && <Remove folder={folder} onClose={() => setQuestion(null)} />}
    </>
  );
}

function Rename({ folder, onClose }: { folder: SourceFolder; onClose: () => void }) {
  const [name, setName] = useState(folder.name);
  const [rename, { isLoading, error }] = useChangeFolderMutation();
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    const renamed = await rename({ id: folder.id, name: name.trim() });
    if (!renamed.error) onClose();
  };
  return (
    <QuestionBox title={`Another name for ${folder.name}`} onClose={onClose}>
      <form onSubmit={(event) => void submit(event)} className="flex flex-col gap-3">
        <TextField
          label="Name"
          value={name}
          onChange={setName}
          maxLength={80}
          autoFocus
          fault={error ? faultOf(error) : null}
        />
        <p className="text-muted">The folder itself keeps its name on the disk.</p>
        <div className="flex justify-end gap-2">
          <Button onClick={onClose}>Cancel</Button>
          <Button kind="primary" type="submit" disabled={isLoading || name.trim() === ''}>
            Rename
          </Button>
        </div>
      </form>
    </QuestionBox>
  );
}

function Remove({ folder, onClose }: { folder: SourceFolder; onClose: () => void }) {
  const [remove, { isLoading, error }] = useRemoveFolderMutation();
  const submit = async () => {
    const removed = await remove(folder.id);
    if (!removed.error) onClose();
  };
  return (
    <QuestionBox title={`Stop watching ${folder.name}?`} onClose={onClose}>
      <p>
        Its files stay where they are (<span className="font-mono text-[12px]">{folder.root}</span>
        ), but nothing can be placed out of them any more. The folder can be added again.
      </p>
      {error && <FaultNote fault={faultOf(error)} />}
      <div className="flex justify-end gap-2">
        <Button onClick={onClose}>Keep it</Button>
        <Button kind="primary" disabled={isLoading} onClick={() => void submit()}>
          Stop watching it
        </Button>
      </div>
    </QuestionBox>
  );
}

function Sending(props: { folder: SourceFolder; file: File; onClose: () => void }) {
  const { folder, file, onClose } = props;
  const [share, setShare] = useState(0);
  const [fault, setFault] = useState<Fault | null>(null);
  const [isBegun, setBegun] = useState(false);
  const upload = useRef<OnTheWay<null> | null>(null);
  const begin = async () => {
    if (file.size > MAX_UPLOAD_BYTES) {
      setFault(faultOfCode('upload-too-large', { name: file.name, limit: '200 MB' }));
      return;
    }
    setBegun(true);
    setFault(null);
    const url = `/source-folders/${folder.id}/files?${new URLSearchParams({ name: file.name })}`;
    upload.current = sendFile({ method: 'PUT', url }, file, setShare);
    const { fault: failed } = await upload.current.done;
    upload.current = null;
    setBegun(false);
    if (failed) setFault(failed);
    else onClose();
  };
  const close = () => {
    upload.current?.stop();
    onClose();
  };
  return (
    <QuestionBox title={`Put a file into ${folder.name}`} onClose={close}>
      <p>
        <span className="font-semibold">{file.name}</span>, {sizeText(file.size)}. Everybody who
        uses this folder will find it there.
      </p>
      {isBegun && <SendingBar name={file.name} share={share} />}
      {fault && <FaultNote fault={fault} />}
      <div className="flex justify-end gap-2">
        <Button onClick={close}>{isBegun ? 'Stop' : 'Cancel'}</Button>
        <Button kind="primary" disabled={isBegun} onClick={() => void begin()}>
          Put it there
        </Button>
      </div>
    </QuestionBox>
  );
}
