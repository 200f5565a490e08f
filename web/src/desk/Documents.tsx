import type { DocumentCard } from '@tether/contract';
import { KIND_NAMES, type KindName, kindOf } from '@tether/documents';
import { CalendarArrowUp, Copy, Ellipsis, Package, PackageOpen, Plus, Trash2 } from 'lucide-react';
import { type FormEvent, Suspense, useRef, useState } from 'react';
import { Link, useNavigate } from 'react-router';
import { KIND_SCREENS } from '../kinds/kinds.tsx';
import {
  faultOf,
  useCreateDocumentMutation,
  useDeleteDocumentMutation,
  useDocumentsQuery,
  useDuplicateDocumentMutation,
  useTethersQuery,
} from '../state/api.ts';
import { useMayChange } from '../state/useMayChange.ts';
import { Button } from '../ui/Button.tsx';
import { FaultNote } from '../ui/FaultNote.tsx';
import { SelectField } from '../ui/fields/SelectField.tsx';
import { TextField } from '../ui/fields/TextField.tsx';
import { Moment } from '../ui/Moment.tsx';
import { Popup } from '../ui/Popup.tsx';
import { QuestionBox } from '../ui/QuestionBox.tsx';
import { StandingBar } from '../ui/StandingBar.tsx';
import { CarryBox } from './CarryBox.tsx';
import { OpenBundleBox } from './OpenBundleBox.tsx';
import { PackBox } from './PackBox.tsx';

/** The documents as cards, and the way to a new one. */
export function Documents() {
  const { data: documents = [], error } = useDocumentsQuery();
  const [isNaming, setNaming] = useState(false);
  const chooser = useRef<HTMLInputElement>(null);
  const [bundle, setBundle] = useState<File | null>(null);
  const { isAllowed, whyNot } = useMayChange();
  return (
    <section aria-labelledby="documents">
      <div className="flex items-center justify-between">
        <h2 id="documents" className="text-[18px] leading-6 font-semibold">
          Documents
        </h2>
        <div className="flex gap-2">
          <Button disabled={!isAllowed} title={whyNot} onClick={() => chooser.current?.click()}>
            <PackageOpen size={15} aria-hidden /> Open a bundle …
          </Button>
          <Button disabled={!isAllowed} title={whyNot} onClick={() => setNaming(true)}>
            <Plus size={15} aria-hidden /> New{' '}
            {KIND_NAMES.length > 1 ? 'document' : kindOf(KIND_NAMES[0]!).name}
          </Button>
        </div>
        <input
          ref={chooser}
          type="file"
          accept=".zip"
          hidden
          aria-label="Bundle to open"
          onChange={(event) => {
            setBundle(event.target.files?.[0] ?? null);
            event.target.value = '';
          }}
        />
      </div>
      {error && <FaultNote fault={faultOf(error)} className="mt-3" />}
      {bundle && <OpenBundleBox file={bundle} onClose={() => setBundle(null)} />}
      {isNaming && <NewDocument onCancel={() => setNaming(false)} />}
      <ul className="mt-3 grid grid-cols-[repeat(auto-fill,minmax(270px,1fr))] gap-4">
        {documents.map((each) => (
          <Card key={each.id} saved={each} />
        ))}
      </ul>
    </section>
  );
}

function NewDocument({ onCancel }: { onCancel: () => void }) {
  const [name, setName] = useState('');
  const [kind, setKind] = useState<KindName>('report');
  const [create, { isLoading, error }] = useCreateDocumentMutation();
  const navigate = useNavigate();
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    const made = await create({ kind, name });
    if (!made.error) void navigate(`/documents/${made.data.id}`);
  };
  return (
    <form
      onSubmit={(event) => void submit(event)}
      className="mt-3 flex items-end gap-2 rounded-box border border-hairline bg-white p-3"
    >
      {KIND_NAMES.length > 1 && (
        <SelectField
          label="Kind"
          value={kind}
          options={KIND_NAMES.map((each) => ({ value: each, label: kindOf(each).name }))}
          onChange={setKind}
        />
      )}
      <div className="flex-1">
        <TextField
          label={`Name of the new document`}
          value={name}
          onChange={setName}
          maxLength={200}
          autoFocus
          fault={error ? faultOf(error) : null}
        />
      </div>
      <Button type="submit" kind="primary" disabled={isLoading || name.trim() === ''}>
        Create it
      </Button>
      <Button onClick={onCancel}>Cancel</Button>
    </form>
  );
}

function Card({ saved }: { saved: DocumentCard }) {
  const { Thumbnail } = KIND_SCREENS[saved.kind];
  return (
    <li className="relative rounded-box border border-hairline bg-white focus-within:border-deep hover:border-deep">
      <Link to={`/documents/${saved.id}`} className="block p-3">
        <Suspense fallback={<div className="h-[150px] border border-hairline bg-white" />}>
          <Thumbnail documentId={saved.id} content={saved.beginning} />
        </Suspense>
        <span className="mt-2 block font-heading text-[15px] font-semibold">{saved.name}</span>
        <span className="block text-muted">
          <span className="inline-block first-letter:uppercase">{kindOf(saved.kind).name}</span> ·
          saved <Moment at={saved.savedAt} />
          {saved.savedBy && ` by ${saved.savedBy}`}
        </span>
        <span className="mt-1.5 block">
          <StandingBar counts={saved.standings} />
        </span>
        {saved.hold && (
          <span className="mt-1 block text-rope-dark">
            Held {saved.hold.by && `by ${saved.hold.by} `}
            since <Moment at={saved.hold.since} />
          </span>
        )}
      </Link>
      <CardActs saved={saved} />
    </li>
  );
}

/** What can be done to a document as a whole. */
function CardActs({ saved }: { saved: DocumentCard }) {
  const { isAllowed, whyNot } = useMayChange();
  const [isAsking, setAsking] = useState(false);
  const [isCarrying, setCarrying] = useState(false);
  const [isPacking, setPacking] = useState(false);
  const [duplicate, { isLoading, error }] = useDuplicateDocumentMutation();
  return (
    <div className="absolute top-4 right-4 rounded-box bg-white/90">
      <Popup
        label={`More for ${saved.name}`}
        face={<Ellipsis size={16} aria-hidden />}
        placement="bottom-end"
        className="flex w-[230px] flex-col gap-1 p-2"
      >
        {(close) => (
          <>
            <Button
              disabled={!isAllowed || isLoading}
              title={whyNot}
              onClick={() => void duplicate(saved.id).then((made) => !made.error && close())}
            >
              <Copy size={15} aria-hidden /> Duplicate
            </Button>
            <Button
              disabled={!isAllowed}
              title={whyNot}
              onClick={() => {
                close();
                setCarrying(true);
              }}
            >
              <CalendarArrowUp size={15} aria-hidden /> Carry forward …
            </Button>
            <Button
              onClick={() => {
                close();
                setPacking(true);
              }}
            >
              <Package size={15} aria-hidden /> Pack with its sources …
            </Button>
            <Button
              disabled={!isAllowed}
              title={whyNot}
              onClick={() => {
                close();
                setAsking(true);
              }}
            >
              <Trash2 size={15} aria-hidden /> Delete …
            </Button>
            {error && <FaultNote fault={faultOf(error)} />}
          </>
        )}
      </Popup>
      {isPacking && <PackBox saved={saved} onClose={() => setPacking(false)} />}
      {isCarrying && <CarryBox saved={saved} onClose={() => setCarrying(false)} />}
      {isAsking && <DeleteQuestion saved={saved} onClose={() => setAsking(false)} />}
    </div>
  );
}

/** What deleting a document means for what depends on it. */
function DeleteQuestion({ saved, onClose }: { saved: DocumentCard; onClose: () => void }) {
  const { data: tethers } = useTethersQuery(saved.id, { refetchOnMountOrArgChange: true });
  const [remove, { isLoading, error }] = useDeleteDocumentMutation();
  const placed = tethers?.filter((each) => each.placed) ?? [];
  const files = new Set(placed.map(({ source }) => source.path));
  const frozen = placed.filter(({ standing }) => standing === 'frozen').length;
  const objects = placed.length === 1 ? 'One object' : `${placed.length} objects`;
  return (
    <QuestionBox title={`Delete “${saved.name}”?`} onClose={onClose}>
      {tethers === undefined ? (
        <p className="text-muted">Checking what depends on it …</p>
      ) : placed.length === 0 ? (
        <p>No object stands in it. Nothing else depends on it.</p>
      ) : (
        <p>
          {objects} in it {placed.length === 1 ? 'follows' : 'follow'}{' '}
          {files.size === 1 ? 'one source file' : `${files.size} source files`}: the files stay as
          they are, and copies in other documents go on.
        </p>
      )}
      {frozen > 0 && (
        <p>
          {frozen === 1 ? 'One of them is' : `${frozen} of them are`} frozen: what{' '}
          {frozen === 1 ? 'it shows' : 'they show'} may stand nowhere else.
        </p>
      )}
      <p className="text-muted">Whoever has it open is told. The log brings it back as it was.</p>
      {error && <FaultNote fault={faultOf(error)} />}
      <div className="flex gap-2">
        <Button
          kind="primary"
          disabled={isLoading || tethers === undefined}
          onClick={() => void remove(saved.id).then((done) => !done.error && onClose())}
        >
          Delete it
        </Button>
        <Button onClick={onClose}>Keep it</Button>
      </div>
    </QuestionBox>
  );
}
