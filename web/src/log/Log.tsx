import { LOG_KINDS, type LogEntry, type LogQuery, logQuerySchema } from '@tether/contract';
import { createContext, Fragment, useContext, useState } from 'react';
import { Link, useNavigate, useSearchParams } from 'react-router';
import { inSteps, type ManyState, useManySteps } from '../ledger/many-steps.ts';
import { WhereFilters } from '../ledger/WhereFilters.tsx';
import { SlipTable } from '../slip/SlipTable.tsx';
import {
  faultOf,
  logApi,
  useLayOutMutation,
  useLogQuery,
  useLogSlipQuery,
  usePeopleQuery,
  useTakeBackMutation,
} from '../state/api.ts';
import { useAppDispatch } from '../state/store.ts';
import { useMayChange } from '../state/useMayChange.ts';
import { Button } from '../ui/Button.tsx';
import { FaultNote } from '../ui/FaultNote.tsx';
import { FilterSelect } from '../ui/fields/FilterSelect.tsx';
import { Moment } from '../ui/Moment.tsx';
import { KIND_WORDS } from './kinds.ts';

/** Taking back what was done to many at once, wherever its entries stand. */
const TakingBack = createContext<{ takeBack: (act: string) => void; isRunning: boolean }>({
  takeBack: () => undefined,
  isRunning: false,
});

/** What happened, by whom, the latest first; a refresh opens to its change slip, and what can be is taken back. */
export default function Log() {
  const [search, setSearch] = useSearchParams();
  const parsed = logQuerySchema
    .omit({ before: true, since: true })
    .safeParse(Object.fromEntries(search));
  const query = parsed.success ? parsed.data : {};
  const set = (change: Record<string, string>) => {
    const next = { ...Object.fromEntries(search), ...change };
    setSearch(Object.entries(next).filter(([, value]) => value !== ''));
  };
  const dispatch = useAppDispatch();
  const { state, run, stop } = useManySteps();
  const takeBack = (act: string) =>
    void run(async () => {
      const entries = await dispatch(
        logApi.endpoints.actEntries.initiate(act, { subscribe: false, forceRefetch: true }),
      ).unwrap();
      return inSteps(entries, (step) =>
        dispatch(logApi.endpoints.takeBackMany.initiate(step)).unwrap(),
      );
    });
  return (
    <main className="h-full overflow-auto p-6">
      <title>Log · Obedient Tether</title>
      <div className="mx-auto max-w-[980px]">
        <h1 className="text-[22px] leading-7 font-semibold">Log</h1>
        <Filters query={query} onChange={set} />
        <BackLine state={state} onStop={stop} />
        <TakingBack.Provider value={{ takeBack, isRunning: state.kind === 'running' }}>
          <Pages key={JSON.stringify(query)} query={query} />
        </TakingBack.Provider>
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
        label="What happened"
        value={query.kind ?? ''}
        options={LOG_KINDS.map((kind) => ({ value: kind, label: kind }))}
        onChange={(kind) => onChange({ kind })}
      />
    </search>
  );
}

/** The first page begins with the latest entry; each further one at a mark, so that what comes meanwhile moves nothing. */
function Pages({ query }: { query: LogQuery }) {
  const [marks, setMarks] = useState<number[]>([]);
  const [first] = marks;
  return (
    <div className="mt-3 rounded-box border border-hairline bg-white">
      <Page
        query={first === undefined ? query : { ...query, since: first }}
        onMore={first === undefined ? (mark) => setMarks([mark]) : undefined}
      />
      {marks.map((mark, index) => (
        <Page
          key={mark}
          query={{ ...query, before: mark }}
          onMore={index === marks.length - 1 ? (next) => setMarks([...marks, next]) : undefined}
        />
      ))}
    </div>
  );
}

function Page(props: { query: LogQuery; onMore?: ((mark: number) => void) | undefined }) {
  const { query, onMore } = props;
  // While the page is asked for anew, what it showed stays.
  const { data, error } = useLogQuery(query);
  if (error) return <FaultNote fault={faultOf(error)} className="m-3" />;
  if (!data) return null;
  if (data.entries.length === 0 && query.before === undefined) {
    return (
      <p className="p-4 text-muted">
        {Object.keys(query).some((key) => key !== 'since')
          ? 'Nothing in the log fits these filters: take some of them away.'
          : 'Nothing has happened yet.'}
      </p>
    );
  }
  const { next } = data;
  return (
    <>
      <ul>
        {data.entries.map((entry, at) => (
          <Fragment key={entry.id}>
            {entry.act &&
              data.entries.findIndex((each) => each.act?.id === entry.act!.id) === at && (
                <Act act={entry.act} entry={entry} />
              )}
            <Entry entry={entry} />
          </Fragment>
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

/** Lays a write that cannot be taken back as a whole out in its source, where each cell is decided by itself. */
function LayOut({ entry }: { entry: LogEntry }) {
  const [layOut, { error, isLoading }] = useLayOutMutation();
  const navigate = useNavigate();
  const open = async () => {
    const done = await layOut(entry.id);
    if (done.data) void navigate(`/sources/${done.data.sourceId}`);
  };
  return (
    <div className="mt-1 flex flex-col items-start gap-1">
      <Button disabled={isLoading} onClick={() => void open()}>
        Decide cell by cell in the source
      </Button>
      {error && <FaultNote fault={faultOf(error)} />}
    </div>
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
            {entry.document && entry.tether && (
              <>
                {' '}
                in <DocumentLink document={entry.document} />
              </>
            )}
          </p>
          <p className="text-muted">
            {entry.summary}
            {entry.source && <span className="ml-2 font-mono text-[11px]">{entry.source}</span>}
          </p>
          {error && <FaultNote fault={faultOf(error)} className="mt-1" />}
          {error && faultOf(error).code === 'not-taken-back' && entry.kind === 'written back' && (
            <LayOut entry={entry} />
          )}
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

/** Heads the entries of what was done to many at once. */
function Act({ act, entry }: { act: NonNullable<LogEntry['act']>; entry: LogEntry }) {
  const { takeBack, isRunning } = useContext(TakingBack);
  const { isAllowed, whyNot } = useMayChange();
  return (
    <li className="flex items-baseline gap-3 border-b border-hairline bg-mist/60 px-4 py-2">
      <span className="w-32 shrink-0 text-muted">
        <Moment at={entry.at} />
      </span>
      <p className="min-w-0 flex-1 font-semibold">
        {act.count.toLocaleString('en')} at once
        {entry.person && `, by ${entry.person}`}
      </p>
      {act.open > 0 && (
        <button
          type="button"
          className="underline disabled:text-muted disabled:no-underline"
          disabled={!isAllowed || isRunning}
          title={whyNot}
          onClick={() => takeBack(act.id)}
        >
          Take back all {act.open.toLocaleString('en')}
        </button>
      )}
    </li>
  );
}

/** How far taking back many is, above the list: what is taken back is logged as well, so that entries move away from it. */
function BackLine({ state, onStop }: { state: ManyState; onStop: () => void }) {
  if (state.kind === 'idle') return null;
  if (state.kind === 'failed') return <FaultNote fault={state.fault} className="mt-3" />;
  return (
    <div className="mt-3 flex items-center gap-3 rounded-box border border-rope bg-rope/10 px-4 py-2">
      {state.kind === 'running' ? (
        <>
          <span role="status" className="font-semibold">
            Taking back {state.done.toLocaleString('en')} of {state.total.toLocaleString('en')} …
          </span>
          <progress
            aria-label="How far it is"
            className="h-2 w-48 accent-deep"
            max={Math.max(1, state.total)}
            value={state.done}
          />
          <Button onClick={onStop}>Stop</Button>
        </>
      ) : (
        <span role="status">
          {state.done.toLocaleString('en')} taken back
          {state.refused.length > 0 &&
            `, ${state.refused.length.toLocaleString('en')} not: ${state.refused[0]!.fault.message}`}
          {state.isStopped && ', then stopped'}.
        </span>
      )}
    </div>
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
  // What was typed into a source came of no document.
  const isOwn = entry.kind === 'written back' && !entry.tether && !entry.document;
  const words = isOwn ? 'wrote into' : KIND_WORDS[entry.kind];
  // Of what is neither an object nor a document, the summary says what it is.
  const name =
    entry.tether?.name ??
    (entry.document ? null : (entry.source ?? entry.summary.replace(/\.$/, '')));
  const object =
    name === null ? (
      <DocumentLink document={entry.document!} />
    ) : (
      <span className="font-semibold">{name}</span>
    );
  if (entry.person) {
    return (
      <>
        {entry.person} {words} {object}
        {entry.how && `, ${entry.how}`}
      </>
    );
  }
  return (
    <>
      {object} {entry.kind === 'refreshed' ? `was refreshed ${entry.how ?? ''}` : words}
    </>
  );
}

function DocumentLink({ document }: { document: NonNullable<LogEntry['document']> }) {
  return (
    <Link className="underline decoration-hairline" to={`/documents/${document.id}`}>
      {document.name}
    </Link>
  );
}
