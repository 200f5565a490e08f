import type { SourceFolder, SourceSummary } from '@tether/contract';
import { useState } from 'react';
import { Moment } from '../ui/Moment.tsx';
import { TextField } from '../ui/TextField.tsx';

interface Props {
  folders: SourceFolder[];
  /** Sources that the document uses already: they come first. */
  usedIds: ReadonlySet<string>;
  chosen: string | null;
  onChoose: (sourceId: string) => void;
}

/** The sources to choose from: those in use here, then every folder; a few letters of the name narrow it. */
export function SourceList({ folders, usedIds, chosen, onChoose }: Props) {
  const [search, setSearch] = useState('');
  const words = search.toLowerCase().split(/\s+/).filter(Boolean);
  const matches = (source: SourceSummary) =>
    words.every((word) => `${source.folder}/${source.path}`.toLowerCase().includes(word));
  const all = folders.flatMap((folder) => folder.sources).filter(matches);
  const used = all.filter(({ id }) => usedIds.has(id));
  const groups = [
    { name: 'Used in this document', sources: used, state: 'watched' as const },
    ...folders.map(({ name, state }) => ({
      name,
      state,
      sources: all.filter((source) => source.folder === name),
    })),
  ].filter(({ sources }) => sources.length > 0);

  return (
    <div className="flex min-h-0 w-[236px] shrink-0 flex-col border-r border-hairline bg-white">
      <div className="p-3">
        <TextField
          label="Find a source"
          type="search"
          value={search}
          onChange={setSearch}
          autoFocus
        />
      </div>
      <div className="min-h-0 flex-1 overflow-auto px-3 pb-3">
        {groups.length === 0 && (
          <p className="text-muted">
            {search ? 'No source has that in its name.' : 'No workbooks in the source folders yet.'}
          </p>
        )}
        {groups.map((group) => (
          <section key={group.name} className="mb-4" aria-label={group.name}>
            <h3 className="mb-1 text-sm font-semibold text-muted">
              {group.name}
              {group.state === 'offline' && ' (offline)'}
            </h3>
            <ul>
              {group.sources.map((source) => (
                <li key={source.id}>
                  <button
                    type="button"
                    aria-current={source.id === chosen}
                    disabled={group.state === 'offline'}
                    onClick={() => onChoose(source.id)}
                    className={`w-full rounded-box border px-2 py-1 text-left disabled:text-muted ${source.id === chosen ? 'border-rope bg-rope/10' : 'border-transparent hover:bg-mist'}`}
                  >
                    <span className="block font-semibold break-words">{source.path}</span>
                    <span className="block text-sm text-muted">
                      {source.state === 'present' ? (
                        <>
                          changed <Moment at={source.changedAt} />
                        </>
                      ) : (
                        <span className="text-adrift">
                          {source.state === 'missing' ? 'missing' : 'cannot be read'}
                        </span>
                      )}
                    </span>
                  </button>
                </li>
              ))}
            </ul>
          </section>
        ))}
      </div>
    </div>
  );
}
