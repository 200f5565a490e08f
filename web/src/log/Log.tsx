import { LOG_KINDS, type LogEntry, type LogQuery, logQuerySchema } from '@tether/contract';
import { useState } from 'react';
import { Link, useSearchParams } from 'react-router';
import {
  faultOf,
  useLogQuery,
  useLogSlipQuery,
  usePeopleQuery,
  useTakeBackMutation,
} from '../app/api.ts';
import { useMayChange } from '../app/useMayChange.ts';
import { WhereFilters } from '../ledger/WhereFilters.tsx';
import { Button } from '../ui/Button.tsx';
import { FaultNote } from '../ui/FaultNote.tsx';
import { FilterSelect } from '../ui/FilterSelect.tsx';
import { Moment } from '../ui/Moment.tsx';
import { SlipTable } from '../workbench/SlipTable.tsx';
import { KIND_WORDS } from './kinds.ts';

/** What happened, by whom, the latest first; a refresh opens to its change slip, and what can be is taken back. */
export default function Log() {
  const [search, setSearch] = useSearchParams();
  const parsed = logQuerySchema.omit({ before: true }).safeParse(Object.fromEntries(search));
  const query = parsed.success ? parsed.data : {};
  const set = (change: Record<string, string>) => {
    const next = { ...Object.fromEntries(search), ...change };
    setSearch(Object.entries(next).filter(([, value]) => value !== ''));
  };
  return (
    <main className="h-full overflow-auto p-6">
      <title>Log · Obedient Tether</title>
      <div className="mx-auto max-w-[980px]">
        <h1 className="text-[22px] leading-7 font-semibold">Log</h1>
        <Filters query={query} onChange={set} />
        <Pages key={JSON.stringify(query)} query={query} />
      </div>
    </main>
  );
}

function Filters(props: { query: LogQuery; onChange: (change: Record<string, string>) => void }) {
  const { query, onChange } = props;
  const { data: people = [] } = usePeopleQuery();
  return (
    <search aria-label="Log" className="mt-3 flex flex-wrap gap-2">
      <WhereFilters document={query.document} source={query.source} onChange={onChange} />
      <FilterSelect
        label="By"
        value={query.person ?? ''}
        options={[
          ...people.map(({ id, name }) => ({ value: id, label: name })),
          { value: 'nobody', label: 'by itself' },
        ]}
        onChange={(person) => onChange({ person })}
      />
      <FilterSelect
        label="What"
        value={query.kind ?? ''}
        options={LOG_KINDS.map((kind) => ({ value: kind, label: kind }))}
        onChange={(kind) => onChange({ kind })}
      />
    </search>
  );
}

function Pages({ query }: { query: LogQuery }) {
  const [pages, setPages] = useState<(number | undefined)[]>([undefined]);
  return (
    <div className="mt-3 rounded-box border border-hairline bg-white">
      {pages.map((before, index) => (
        <Page
          key={before ?? 'first'}
          query={query}
          before={before}
          onMore={index === pages.length - 1 ? (next) => setPages([...pages, next]) : undefined}
        />
      ))}
    </div>
  );
}

function Page(props: {
  query: LogQuery;
  before: number | undefined;
  onMore?: ((next: number) => void) | undefined;
}) {
  const { query, before, onMore } = props;
  const { data, error } = useLogQuery(before === undefined ? query : { ...query, before });
  if (error) return <FaultNote fault={faultOf(error)} className="m-3" />;
  if (!data) return null;
  if (data.entries.length === 0 && before === undefined) {
    return (
      <p className="p-4 text-muted">
        {Object.keys(query).length > 0
          ? 'Nothing of that kind has happened: widen the question.'
          : 'Nothing has happened yet.'}
      </p>
    );
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

function Entry({ entry }: { entry: LogEntry }) {
  const [isOpen, setOpen] = useState(false);
  const { isAllowed, whyNot } = useMayChange();
  const [takeBack, { error, isLoading }] = useTakeBackMutation();
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
          {error && <FaultNote fault={faultOf(error)} className="mt-1" />}
          {isOpen && <Slip entry={entry} />}
        </div>
        {entry.takenBackAt && (
          <span className="text-muted">
            taken back <Moment at={entry.takenBackAt} />
          </span>
        )}
        {entry.canTakeBack && (
          <button
            type="button"
            className="underline disabled:text-muted disabled:no-underline"
            disabled={!isAllowed || isLoading}
            title={whyNot}
            onClick={() => void takeBack(entry.id)}
          >
            Take back
          </button>
        )}
        {entry.hasSlip && (
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

function Slip({ entry }: { entry: LogEntry }) {
  const { data, error } = useLogSlipQuery(entry.id);
  return (
    <div className="mt-2" aria-busy={!data && !error}>
      {error && <FaultNote fault={faultOf(error)} />}
      {data && <SlipTable slip={data} label={`Changes taken into ${entry.tether?.name}`} />}
    </div>
  );
}

function Sentence({ entry }: { entry: LogEntry }) {
  const words = KIND_WORDS[entry.kind];
  const name = entry.tether?.name ?? (entry.document ? 'the document' : 'a source');
  const object = <span className="font-semibold">{name}</span>;
  if (entry.person) {
    return (
      <>
        {entry.person} {words} {object}
      </>
    );
  }
  return (
    <>
      {object} {entry.kind === 'refreshed' ? `was refreshed ${entry.how ?? ''}` : words}
    </>
  );
}
