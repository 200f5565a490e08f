import {
  LEDGER_GROUPS,
  type LedgerQuery,
  type LedgerSelection,
  ledgerQuerySchema,
} from '@tether/contract';
import { MODE_KINDS, MODE_WORDS, STANDINGS } from '@tether/core';
import { FORMS } from '@tether/documents';
import { useEffect, useState } from 'react';
import { useSearchParams } from 'react-router';
import { faultOf, useLedgerQuery } from '../state/api.ts';
import { FaultNote } from '../ui/FaultNote.tsx';
import { FilterSelect } from '../ui/fields/FilterSelect.tsx';
import { Tick } from '../ui/fields/Tick.tsx';
import { useSettled } from '../ui/useSettled.ts';
import { LedgerTable } from './LedgerTable.tsx';
import { ManyActs } from './ManyActs.tsx';
import { Views } from './Views.tsx';
import { WhereFilters } from './WhereFilters.tsx';

/** Every tether of every document: found, ordered, and changed many at once. */
export default function Ledger() {
  const [search, setSearch] = useSearchParams();
  const parsed = ledgerQuerySchema.safeParse(Object.fromEntries(search));
  const query = parsed.success ? parsed.data : {};
  const { data: first, error } = useLedgerQuery({ ...query, page: 0 });
  const [chosen, setChosen] = useState<ReadonlySet<string>>(new Set());
  /** Whether all that the question finds are chosen, also those that were not loaded. */
  const [isAll, setAll] = useState(false);
  const choose = (ids: ReadonlySet<string>) => {
    setChosen(ids);
    setAll(false);
  };
  const ask = (next: LedgerQuery) => {
    choose(new Set());
    setSearch(Object.entries(next).filter(([, value]) => value !== undefined && value !== ''));
  };
  const set = (change: Partial<Record<keyof LedgerQuery, string>>) =>
    ask({ ...query, ...change } as LedgerQuery);
  const selection: LedgerSelection | null = isAll
    ? { query }
    : chosen.size > 0
      ? { ids: [...chosen] }
      : null;
  const total = first?.total ?? 0;

  return (
    <main className="flex h-full flex-col">
      <title>Ledger · Obedient Tether</title>
      <div className="border-b border-hairline bg-white px-6 pt-4 pb-3">
        <div className="flex items-baseline gap-3">
          <h1 className="text-[22px] leading-7 font-semibold">Ledger</h1>
          <p role="status" className="text-muted">
            {first && `${total.toLocaleString('en')} ${total === 1 ? 'object' : 'objects'}`}
          </p>
          <span className="ml-auto" />
          <Views query={query} onOpen={ask} />
        </div>
        <Filters query={query} onChange={set} />
      </div>
      <ManyActs
        selection={selection}
        count={isAll ? total : chosen.size}
        total={total}
        isAll={isAll}
        onAll={() => setAll(true)}
        onDone={() => choose(new Set())}
      />
      {error && <FaultNote fault={faultOf(error)} className="m-4" />}
      {first && total === 0 && (
        <p className="p-6 text-muted">
          {Object.keys(query).length > 0
            ? 'No object fits these filters: take some of them away.'
            : 'No object is placed yet: open a document and press Place.'}
        </p>
      )}
      {first && total > 0 && (
        <LedgerTable
          key={JSON.stringify(query)}
          query={query}
          first={first}
          chosen={chosen}
          isAll={isAll}
          onChoose={choose}
          onSort={set}
        />
      )}
    </main>
  );
}

function Filters(props: {
  query: LedgerQuery;
  onChange: (change: Partial<Record<keyof LedgerQuery, string>>) => void;
}) {
  const { query, onChange } = props;
  const [words, setWords] = useState(query.words ?? '');
  const settled = useSettled(words, 200);
  // biome-ignore lint/correctness/useExhaustiveDependencies: only what is typed asks anew, not what else the question became
  useEffect(() => {
    if (settled !== (query.words ?? '')) onChange({ words: settled });
  }, [settled]);
  // A view that is opened brings its own words.
  useEffect(() => setWords(query.words ?? ''), [query.words]);
  const plain = (values: readonly string[]) => values.map((value) => ({ value, label: value }));
  return (
    <search aria-label="Ledger" className="mt-2 flex flex-wrap items-center gap-x-3 gap-y-2">
      <input
        type="search"
        aria-label="Words in name, document or source"
        placeholder="Name, document or source"
        value={words}
        maxLength={200}
        onChange={({ target }) => setWords(target.value)}
        className="h-8 w-56 rounded-box border border-hairline bg-white px-2"
      />
      <FilterSelect
        label="Standing"
        value={query.standing ?? ''}
        options={plain(STANDINGS)}
        onChange={(standing) => onChange({ standing })}
      />
      <WhereFilters document={query.document} source={query.source} onChange={onChange} />
      <FilterSelect
        label="Refreshes"
        value={query.mode ?? ''}
        options={MODE_KINDS.map((value) => ({ value, label: MODE_WORDS[value] }))}
        onChange={(mode) => onChange({ mode })}
      />
      <FilterSelect
        label="Form"
        value={query.form ?? ''}
        options={plain(FORMS)}
        onChange={(form) => onChange({ form })}
      />
      <FilterSelect
        label="Grouped by"
        none="nothing"
        value={query.group ?? ''}
        options={plain(LEDGER_GROUPS)}
        onChange={(group) => onChange({ group })}
      />
      <Tick
        isOn={query.needs === 'yes'}
        onChange={(isOn) => onChange({ needs: isOn ? 'yes' : '' })}
      >
        Needs somebody
      </Tick>
    </search>
  );
}
