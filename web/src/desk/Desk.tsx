import type { Hold, NeedsYou, SourceFolder, Tether } from '@tether/contract';
import { useEffect, useRef, useState } from 'react';
import { Link } from 'react-router';
import { useRefreshObjects } from '../documents/object/useRefreshObjects.ts';
import {
  faultOf,
  useHoldMutation,
  useJobsQuery,
  useLookAgainMutation,
  useNeedsYouQuery,
  useSourcesQuery,
} from '../state/api.ts';
import { useMayChange } from '../state/useMayChange.ts';
import { Button } from '../ui/Button.tsx';
import { FaultNote } from '../ui/FaultNote.tsx';
import { Moment } from '../ui/Moment.tsx';
import { StandingGlyph } from '../ui/StandingGlyph.tsx';
import { Documents } from './Documents.tsx';

/** Home: what needs attention, the documents, the source folders. */
export function Desk() {
  return (
    <main className="grid h-full grid-cols-[minmax(300px,380px)_1fr] overflow-auto">
      <title>Desk · Obedient Tether</title>
      <h1 className="sr-only">Desk</h1>
      <NeedsYouList />
      <div className="flex flex-col gap-8 p-6">
        <Documents />
        <Folders />
      </div>
    </main>
  );
}

function NeedsYouList() {
  const [pages, setPages] = useState(1);
  const { data: first } = useNeedsYouQuery(0);
  const total = first?.total;
  return (
    <section aria-labelledby="needs-you" className="border-r border-hairline bg-white p-6">
      <h2 id="needs-you" className="text-[18px] leading-6 font-semibold">
        Needs you
        {total !== undefined && total > 0 && (
          <span className="ml-2 font-sans text-base font-normal text-muted">
            {total.toLocaleString('en')} {total === 1 ? 'object' : 'objects'}
          </span>
        )}
      </h2>
      {total === 0 && (
        <p className="mt-3 flex items-center gap-2 text-muted">
          <StandingGlyph standing="in step" />
          Nothing to do: every object is in step, or somebody has decided about it.
        </p>
      )}
      {Array.from({ length: pages }, (_, page) => (
        <NeedsOfPage
          key={page}
          page={page}
          onMore={page === pages - 1 ? () => setPages(pages + 1) : undefined}
        />
      ))}
    </section>
  );
}

/** A page of what needs somebody; the next one is asked for when its end comes near the screen. */
function NeedsOfPage({ page, onMore }: { page: number; onMore: (() => void) | undefined }) {
  const { data } = useNeedsYouQuery(page);
  const end = useRef<HTMLDivElement>(null);
  const hasMore = data?.hasMore === true && onMore !== undefined;
  useEffect(() => {
    if (!hasMore || !end.current) return;
    const observer = new IntersectionObserver((entries) => {
      if (entries.some(({ isIntersecting }) => isIntersecting)) onMore();
    });
    observer.observe(end.current);
    return () => observer.disconnect();
  }, [hasMore, onMore]);
  const groups = new Map<string, NeedsYou[]>();
  for (const need of data?.needs ?? []) {
    const { documentId } = need.tether;
    groups.set(documentId, [...(groups.get(documentId) ?? []), need]);
  }
  return (
    <>
      {[...groups].map(([documentId, group]) => (
        <div key={documentId} className="mt-4">
          <h3 className="border-b border-hairline pb-1 text-base font-semibold">
            <Link to={`/documents/${documentId}`} className="hover:underline">
              {group[0]!.documentName}
            </Link>
          </h3>
          {group[0]!.hold && <HeldLine documentId={documentId} hold={group[0]!.hold} />}
          <ul className="divide-y divide-hairline">
            {group.map(({ tether, hold }) => (
              <Need key={tether.id} tether={tether} hold={hold} />
            ))}
          </ul>
        </div>
      ))}
      {hasMore && (
        <div ref={end} className="py-3">
          <Button onClick={onMore}>More</Button>
        </div>
      )}
    </>
  );
}

function HeldLine({ documentId, hold }: { documentId: string; hold: Hold }) {
  const { isAllowed, whyNot } = useMayChange();
  const [setHold, { isLoading }] = useHoldMutation();
  return (
    <div className="flex items-center gap-2 bg-rope/15 px-2 py-1">
      <p className="flex-1">
        Held {hold.by && `by ${hold.by} `}
        since <Moment at={hold.since} />
      </p>
      <Button
        disabled={!isAllowed || isLoading}
        title={whyNot}
        onClick={() => void setHold({ id: documentId, isHeld: false })}
      >
        Release
      </Button>
    </div>
  );
}

/** One object that needs somebody, with the one thing to do about it. */
function Need({ tether, hold }: { tether: Tether; hold: Hold | null }) {
  const { take, isTaking, refused } = useRefreshObjects();
  const { isAllowed, whyNot } = useMayChange();
  const [look, { isLoading: isLooking, error }] = useLookAgainMutation();
  const place = `/documents/${tether.documentId}?object=${tether.id}`;
  const isBehind = tether.standing === 'behind';
  return (
    // What is far from the screen is left unpainted by the browser.
    <li className="py-2 [contain-intrinsic-size:auto_64px] [content-visibility:auto]">
      <div className="flex items-start gap-2">
        <span className="pt-1">
          <StandingGlyph standing={tether.standing} />
        </span>
        <div className="min-w-0 flex-1">
          <Link to={place} className="font-semibold hover:underline">
            {tether.name}
          </Link>
          <p className="text-muted">
            {tether.standing}
            {tether.summary && isBehind ? `: ${tether.summary}` : ''} ·{' '}
            <Moment at={tether.standingSince} />
          </p>
          {tether.reason && <p>{tether.reason.message}</p>}
          {tether.waits && <p>Waiting for a decision: {tether.waits.message}</p>}
        </div>
        {isBehind && !tether.waits && !hold && (
          <Button
            disabled={!isAllowed || isTaking}
            title={whyNot}
            aria-label={`Refresh ${tether.name}`}
            onClick={() => void take([tether])}
          >
            Refresh
          </Button>
        )}
        {isBehind && (tether.waits || hold) && (
          <Link
            to={`${place}&changes`}
            className="pt-1 underline"
            aria-label={`Look at the changes of ${tether.name}`}
          >
            Look
          </Link>
        )}
        {(tether.standing === 'contested' || tether.standing === 'reshaped') && (
          <Link to={place} className="pt-1 underline" aria-label={`Decide on ${tether.name}`}>
            Decide
          </Link>
        )}
        {tether.standing === 'adrift' && (
          <Button
            disabled={!isAllowed || isLooking}
            title={whyNot ?? 'Reads its source again'}
            aria-label={`Look again for ${tether.name}`}
            onClick={() => void look(tether.id)}
          >
            {isLooking ? 'Looking …' : 'Look again'}
          </Button>
        )}
      </div>
      {error && <FaultNote fault={faultOf(error)} className="mt-2" />}
      {refused.map(({ id, fault }) => (
        <FaultNote key={id} fault={fault} className="mt-2" />
      ))}
    </li>
  );
}

/** What is being read now, what waits for it, and what did not work and is tried again. */
function Readings() {
  const { data: jobs } = useJobsQuery();
  if (!jobs) return null;
  const { running, waiting, retrying, workers } = jobs;
  const parts = [
    ...running.map(({ path }) => `reading ${path}`),
    ...(waiting > 0 ? [`${waiting} waiting to be read`] : []),
  ];
  return (
    <div className="mt-1 text-muted">
      <p role="status">
        {parts.length > 0 ? parts.join(', ') : 'Everything that was saved has been read.'}
        {workers.length > 1 && ` ${workers.length} processes share the work.`}
      </p>
      {retrying.map(({ path, times, next, reason }) => (
        <p key={path} className="text-adrift">
          {path} could not be read ({reason}); tried {times === 1 ? 'once' : `${times} times`},
          again <Moment at={next} />.
        </p>
      ))}
    </div>
  );
}

const STATE_WORDS = {
  present: '',
  new: 'being read',
  missing: 'missing',
  unreadable: 'cannot be read',
} as const;

function Folders() {
  const { data: folders = [] } = useSourcesQuery();
  return (
    <section aria-labelledby="folders">
      <h2 id="folders" className="text-[18px] leading-6 font-semibold">
        Source folders
      </h2>
      <Readings />
      <div className="mt-3 grid grid-cols-[repeat(auto-fill,minmax(330px,1fr))] gap-4">
        {folders.map((folder) => (
          <Folder key={folder.id} folder={folder} />
        ))}
      </div>
    </section>
  );
}

function Folder({ folder }: { folder: SourceFolder }) {
  const latestFirst = [...folder.sources].sort((a, b) => b.changedAt.localeCompare(a.changedAt));
  return (
    <div className="rounded-box border border-hairline bg-white p-3">
      <h3 className="flex items-center justify-between text-[15px] font-semibold">
        {folder.name}
        <span
          className={`font-sans text-base font-normal ${folder.state === 'offline' ? 'text-adrift' : 'text-muted'}`}
        >
          {folder.state}
        </span>
      </h3>
      {latestFirst.length === 0 && (
        <p className="text-muted">No workbooks in it yet: save one there and it appears here.</p>
      )}
      <ul>
        {latestFirst.slice(0, 6).map((source) => (
          <li key={source.id} className="flex items-baseline justify-between gap-3 py-0.5">
            <span className="truncate font-mono text-[12px]" title={source.path}>
              {source.path}
            </span>
            <span className="shrink-0 text-muted">
              {source.state === 'present' ? (
                <>
                  changed <Moment at={source.changedAt} />
                </>
              ) : (
                <span className="text-adrift" title={source.fault?.message}>
                  {STATE_WORDS[source.state]}
                </span>
              )}
            </span>
          </li>
        ))}
      </ul>
    </div>
  );
}
