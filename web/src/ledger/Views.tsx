import type { LedgerQuery } from '@tether/contract';
import { Trash2 } from 'lucide-react';
import { type FormEvent, useState } from 'react';
import {
  faultOf,
  useRemoveViewMutation,
  useSaveViewMutation,
  useViewsQuery,
} from '../state/api.ts';
import { Button } from '../ui/Button.tsx';
import { FilterSelect } from '../ui/fields/FilterSelect.tsx';
import { TextField } from '../ui/fields/TextField.tsx';
import { IconButton } from '../ui/IconButton.tsx';
import { QuestionBox } from '../ui/QuestionBox.tsx';

/** Questions that a person keeps: opened, kept, removed. */
export function Views(props: { query: LedgerQuery; onOpen: (query: LedgerQuery) => void }) {
  const { query, onOpen } = props;
  const { data: views = [] } = useViewsQuery();
  const [remove] = useRemoveViewMutation();
  const [isNaming, setNaming] = useState(false);
  const key = JSON.stringify(sorted(query));
  const current = views.find((view) => JSON.stringify(sorted(view.query)) === key);
  return (
    <span className="flex items-center gap-1">
      <FilterSelect
        label="View"
        none={views.length > 0 ? 'none' : 'none kept yet'}
        value={current?.id ?? ''}
        options={views.map(({ id, name }) => ({ value: id, label: name }))}
        onChange={(id) => onOpen(views.find((view) => view.id === id)?.query ?? {})}
      />
      {current ? (
        <IconButton
          icon={Trash2}
          label={`Remove the view ${current.name}`}
          onClick={() => void remove(current.id)}
        />
      ) : (
        <Button
          kind="quiet"
          disabled={Object.keys(query).length === 0}
          title={Object.keys(query).length === 0 ? 'Set a filter first' : undefined}
          onClick={() => setNaming(true)}
        >
          Keep this view
        </Button>
      )}
      {isNaming && <KeepView query={query} onClose={() => setNaming(false)} />}
    </span>
  );
}

function sorted(query: LedgerQuery): [string, unknown][] {
  return Object.entries(query).sort(([a], [b]) => (a < b ? -1 : 1));
}

function KeepView({ query, onClose }: { query: LedgerQuery; onClose: () => void }) {
  const [name, setName] = useState('');
  const [save, { error, isLoading }] = useSaveViewMutation();
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    const saved = await save({ name, query });
    if (!saved.error) onClose();
  };
  return (
    <QuestionBox title="Keep this view" onClose={onClose}>
      <form onSubmit={(event) => void submit(event)} className="flex flex-col gap-3">
        <TextField
          label="Name of the view"
          value={name}
          onChange={setName}
          maxLength={80}
          autoFocus
          fault={error ? faultOf(error) : null}
        />
        <p className="text-muted">It is kept for you alone; one of the same name is replaced.</p>
        <div className="flex gap-2">
          <Button type="submit" kind="primary" disabled={isLoading || name.trim() === ''}>
            Keep it
          </Button>
          <Button onClick={onClose}>Cancel</Button>
        </div>
      </form>
    </QuestionBox>
  );
}
