import type { LogEntry } from '@tether/contract';
import { useState } from 'react';
import { Link } from 'react-router';
import { faultOf, useLogQuery } from '../app/api.ts';
import { Button } from '../ui/Button.tsx';
import { FaultNote } from '../ui/FaultNote.tsx';
import { Moment } from '../ui/Moment.tsx';
import { SlipTable } from '../workbench/SlipTable.tsx';

/** What happened, by whom, the latest first; a refresh opens to its change slip. */
export default function Log() {
  const [pages, setPages] = useState<(number | undefined)[]>([undefined]);
  return (
    <main className="h-full overflow-auto p-6">
      <title>Log · Obedient Tether</title>
      <div className="mx-auto max-w-[980px]">
        <h1 className="text-[22px] leading-7 font-semibold">Log</h1>
        <div className="mt-3 rounded-box border border-hairline bg-white">
          {pages.map((before, index) => (
            <Page
              key={before ?? 'first'}
              before={before}
              onMore={index === pages.length - 1 ? (next) => setPages([...pages, next]) : undefined}
            />
          ))}
        </div>
      </div>
    </main>
  );
}

function Page(props: { before: number | undefined; onMore?: (next: number) => void }) {
  const { before, onMore } = props;
  const { data, error } = useLogQuery(before === undefined ? {} : { before });
  if (error) return <FaultNote fault={faultOf(error)} className="m-3" />;
  if (!data) return null;
  if (data.entries.length === 0 && before === undefined) {
    return <p className="p-4 text-muted">Nothing has happened yet.</p>;
  }
  const { next } = data;
  return (
    <>
      <ul>
        {data.entries.map((entry) => (
          <Entry key={entry.id} entry={entry} />
        ))}
      </ul>
      {next !== null && onMore && (
        <div className="p-3">
          <Button onClick={() => onMore(next)}>Earlier</Button>
        </div>
      )}
    </>
  );
}

const KIND_WORDS: Record<LogEntry['kind'], string> = {
  placed: 'placed',
  refreshed: 'refreshed',
  'reach changed': 'changed what is taken by',
  adrift: 'went adrift',
  'found again': 'was found again',
};

function Entry({ entry }: { entry: LogEntry }) {
  const [isOpen, setOpen] = useState(false);
  return (
    <li className="border-b border-hairline px-4 py-2 last:border-b-0">
      <div className="flex items-baseline gap-3">
        <span className="w-32 shrink-0 text-muted">
          <Moment at={entry.at} />
        </span>
        <div className="min-w-0 flex-1">
          <p>
            <Sentence entry={entry} />
            {entry.document && (
              <>
                {' '}
                in{' '}
                <Link
                  className="underline decoration-hairline"
                  to={`/documents/${entry.document.id}`}
                >
                  {entry.document.name}
                </Link>
              </>
            )}
          </p>
          <p className="text-muted">
            {entry.summary}
            {entry.source && <span className="ml-2 font-mono text-[11px]">{entry.source}</span>}
          </p>
          {isOpen && entry.slip && (
            <div className="mt-2">
              <SlipTable slip={entry.slip} label={`Changes taken into ${entry.tether?.name}`} />
            </div>
          )}
        </div>
        {entry.slip && (
          <button
            type="button"
            aria-expanded={isOpen}
            className="underline"
            onClick={() => setOpen(!isOpen)}
          >
            {isOpen ? 'Hide the change slip' : 'Change slip'}
          </button>
        )}
      </div>
    </li>
  );
}

function Sentence({ entry }: { entry: LogEntry }) {
  const object = <span className="font-semibold">{entry.tether?.name ?? 'An object'}</span>;
  const words = KIND_WORDS[entry.kind];
  return entry.person ? (
    <>
      {entry.person} {words} {object}
    </>
  ) : (
    <>
      {object} {words}
    </>
  );
}
