import type { SourceFolder, SourceMatch, SourceSummary } from '@tether/contract';
import { type ReactNode, useState } from 'react';
import { useSearchSourcesQuery } from '../state/api.ts';
import { TextField } from '../ui/fields/TextField.tsx';
import { Moment } from '../ui/Moment.tsx';
import { useSettled } from '../ui/useSettled.ts';

interface Props {
  folders: SourceFolder[];
  /** Sources that the document uses already: they come first. */
  usedIds: ReadonlySet<string>;
  chosen: string | null;
  /** `sheet` is the one that a search found. */
  onChoose: (sourceId: string, sheet?: string) => void;
  /** What can be done with a folder, beside its name. */
  actions?: (folder: SourceFolder) => ReactNode;
  footer?: ReactNode;
}

/** Searching begins a moment after the last letter, and with the second. */
const SETTLE_MS = 200;
const LEAST_LETTERS = 2;

/**
 * The sources to choose from: those in use here, then every folder with the folders in it. A few letters narrow it to the
 * files, sheets and headers that have them.
 */
export function SourceList({ folders, usedIds, chosen, onChoose, actions, footer }: Props) {
  const [search, setSearch] = useState('');
  const words = search.toLowerCase().split(/\s+/).filter(Boolean);
  const settled = useSettled(search.trim(), SETTLE_MS);
  const { currentData: matches = [] } = useSearchSourcesQuery(settled, {
    skip: settled.length < LEAST_LETTERS,
  });
  const inside = new Map<string, SourceMatch[]>();
  if (settled !== '' && settled === search.trim()) {
    for (const match of matches) {
      inside.set(match.sourceId, [...(inside.get(match.sourceId) ?? []), match]);
    }
  }
  const isWanted = (source: SourceSummary) =>
    inside.has(source.id) ||
    words.every((word) => `${source.folder}/${source.path}`.toLowerCase().includes(word));
  const all = folders.flatMap((folder) => folder.sources).filter(isWanted);
  const used = all.filter(({ id }) => usedIds.has(id));
  const shown = folders
    .map((folder) => ({ folder, sources: folder.sources.filter(isWanted) }))
    .filter(({ sources }) => sources.length > 0 || (words.length === 0 && actions !== undefined));
  const entry = (source: SourceSummary, isOffline: boolean, name: string) => (
    <Entry
      key={source.id}
      source={source}
      name={name}
      isOffline={isOffline}
      isChosen={source.id === chosen}
      matches={inside.get(source.id) ?? []}
      onChoose={onChoose}
    />
  );

  return (
    <div className="flex min-h-0 w-[236px] shrink-0 flex-col border-r border-hairline bg-white">
      <div className="p-3">
        <TextField
          label="Find a source"
          type="search"
          value={search}
          onChange={setSearch}
          placeholder="file, sheet or header"
          autoFocus
        />
      </div>
      <div className="min-h-0 flex-1 overflow-auto px-3 pb-3">
        {used.length === 0 && shown.length === 0 && (
          <p className="text-muted">
            {search ? 'No file, sheet or header has that in its name.' : 'No source folders yet.'}
          </p>
        )}
        {used.length > 0 && (
          <section className="mb-4" aria-label="Used in this document">
            <h3 className="mb-1 text-sm font-semibold text-muted">Used in this document</h3>
            <ul>{used.map((source) => entry(source, false, source.path))}</ul>
          </section>
        )}
        {shown.map(({ folder, sources }) => (
          <section key={folder.id} className="mb-4" aria-label={folder.name}>
            <div className="mb-1 flex items-center gap-1">
              <h3
                className="min-w-0 flex-1 truncate text-sm font-semibold text-muted"
                title={folder.root}
              >
                {folder.name}
                {folder.state === 'offline' && <span className="text-adrift"> (offline)</span>}
              </h3>
              {actions?.(folder)}
            </div>
            {sources.length === 0 && <p className="text-sm text-muted">No sources in it yet.</p>}
            {branchesOf(sources).map(({ path, files }) => (
              <div key={path} className={path === '' ? '' : 'mt-1 border-l border-hairline pl-2'}>
                {path !== '' && <h4 className="text-sm text-muted">{path}/</h4>}
                <ul>
                  {files.map((file) =>
                    entry(
                      file,
                      folder.state === 'offline',
                      file.path.slice(path === '' ? 0 : path.length + 1),
                    ),
                  )}
                </ul>
              </div>
            ))}
          </section>
        ))}
      </div>
      {footer && <div className="border-t border-hairline p-3">{footer}</div>}
    </div>
  );
}

/** The files by the folder they lie in, those at the top first. */
function branchesOf(sources: SourceSummary[]): { path: string; files: SourceSummary[] }[] {
  const branches = new Map<string, SourceSummary[]>();
  for (const source of sources) {
    const path = source.path.split('/').slice(0, -1).join('/');
    branches.set(path, [...(branches.get(path) ?? []), source]);
  }
  return [...branches]
    .map(([path, files]) => ({ path, files }))
    .sort((a, b) => a.path.localeCompare(b.path));
}

function Entry(props: {
  source: SourceSummary;
  name: string;
  isOffline: boolean;
  isChosen: boolean;
  matches: SourceMatch[];
  onChoose: Props['onChoose'];
}) {
  const { source, name, isOffline, isChosen, matches, onChoose } = props;
  return (
    <li>
      <button
        type="button"
        aria-current={isChosen}
        disabled={isOffline}
        onClick={() => onChoose(source.id)}
        className={`w-full rounded-box border px-2 py-1 text-left disabled:text-muted ${isChosen ? 'border-rope bg-rope/10' : 'border-transparent hover:bg-mist'}`}
      >
        <span className="block font-semibold break-words">{name}</span>
        <span className="block text-sm text-muted">
          {source.state === 'new' ? (
            'being read …'
          ) : source.state === 'present' ? (
            <>
              changed <Moment at={source.changedAt} />
              {source.fault && (
                <span className="block text-adrift" title={source.fault.message}>
                  cannot be read in part
                </span>
              )}
            </>
          ) : (
            <span className="text-adrift" title={source.fault?.message}>
              {source.state === 'missing' ? 'missing' : 'cannot be read'}
            </span>
          )}
        </span>
      </button>
      {matches.map(({ sheet, header }) => (
        <button
          key={`${sheet} ${header}`}
          type="button"
          disabled={isOffline}
          onClick={() => onChoose(source.id, sheet)}
          className="block w-full truncate rounded-box py-0.5 pr-2 pl-4 text-left text-sm hover:bg-mist"
        >
          {header === null ? (
            <>
              sheet <span className="font-semibold">{sheet}</span>
            </>
          ) : (
            <>
              <span className="font-semibold">{header}</span>
              <span className="text-muted"> on {sheet}</span>
            </>
          )}
        </button>
      ))}
    </li>
  );
}
