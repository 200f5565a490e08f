import type { SourceContents } from '@tether/contract';
import {
  describePicked,
  formatArea,
  type Header,
  headerOf,
  type PickedHeader,
  type Snapshot,
} from '@tether/core';
import { useCellsQuery } from '../state/api.ts';
import { SelectField } from '../ui/fields/SelectField.tsx';
import { Tick } from '../ui/fields/Tick.tsx';
import type { ReachDraft } from './reach-draft.ts';

interface DraftProps {
  draft: ReachDraft;
  onChange: (part: Partial<ReachDraft>) => void;
}

/** Which rows are the header: as it reads, or as a person says. */
export function HeaderChoice(props: DraftProps & { snapshot: Snapshot }) {
  const { snapshot, draft, onChange } = props;
  const { header: _, ...unsaid } = snapshot;
  const found = headerOf(unsaid);
  const { top } = snapshot.area;
  const height = snapshot.area.bottom - top + 1;
  if (height < 2) return null;
  const words = ({ title, rows }: Header) =>
    rows === 0
      ? 'none'
      : rows === 1
        ? `row ${top + title}`
        : `rows ${top + title} to ${top + title + rows - 1}`;
  const offered: Header[] = [{ title: 0, rows: 0 }];
  for (const title of new Set([0, found.title])) {
    for (let rows = 1; rows <= 3 && title + rows < height; rows++) offered.push({ title, rows });
  }
  const { headed } = draft;
  const key = ({ title, rows }: Header) => `${title} ${rows}`;
  if (headed && !offered.some((each) => key(each) === key(headed))) offered.push(headed);
  return (
    <div className="mt-2">
      <SelectField
        label="Header"
        value={headed ? key(headed) : 'found'}
        options={[
          { value: 'found', label: `${words(found)} (as it reads)` },
          ...offered.map((each) => ({ value: key(each), label: words(each) })),
        ]}
        onChange={(value) =>
          onChange({ headed: offered.find((each) => key(each) === value) ?? null })
        }
      />
    </div>
  );
}

/** The header row that was taken, as ticks. */
export function Headers(props: DraftProps & { sourceId: string; contents: SourceContents }) {
  const { sourceId, contents, draft, onChange } = props;
  const area = draft.area!;
  // A title may stand above the headers.
  const rows = { ...area, bottom: Math.min(area.bottom, area.top + HEADER_ROWS - 1) };
  const { data } = useCellsQuery({
    sourceId,
    hash: contents.hash,
    sheet: draft.sheet,
    reference: formatArea(rows),
  });
  const { title, rows: count } = data ? headerOf(data) : { title: 0, rows: 0 };
  const row = area.top + (count === 0 ? 0 : title + count - 1);
  const counts = new Map<string, number>();
  const headers = (data?.cells ?? [])
    .filter((cell) => cell.row === row && cell.type !== 'blank')
    .map(({ text }): PickedHeader => {
      const nth = (counts.get(text) ?? 0) + 1;
      counts.set(text, nth);
      return nth === 1 ? text : { text, nth };
    });
  if (headers.length === 0) return <p className="text-muted">The first row has no headers.</p>;
  const isPicked = (header: PickedHeader) =>
    draft.columns.some((each) => describePicked(each) === describePicked(header));
  const pick = (header: PickedHeader, isOn: boolean) =>
    onChange({
      area: { ...area, top: row },
      columns: isOn
        ? [...draft.columns, header]
        : draft.columns.filter((each) => describePicked(each) !== describePicked(header)),
    });
  return (
    <fieldset className="flex max-h-40 shrink-0 flex-col gap-1 overflow-auto border border-hairline p-2">
      <legend className="px-1 text-sm font-semibold text-muted">Columns</legend>
      {headers.map((header) => (
        <Tick
          key={describePicked(header)}
          isOn={isPicked(header)}
          onChange={(isOn) => pick(header, isOn)}
        >
          {describePicked(header)}
        </Tick>
      ))}
    </fieldset>
  );
}

/** Rows in which the headers of a table are looked for. */
const HEADER_ROWS = 8;
