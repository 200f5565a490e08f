import { Field, Label, Radio, RadioGroup } from '@headlessui/react';
import type { SourceContents, Tether } from '@tether/contract';
import {
  type Area,
  cellCount,
  columnWidths,
  describePicked,
  describeReach,
  type Fault,
  fault,
  formatArea,
  formatReference,
  type Header,
  headerOf,
  MAX_REACH_CELLS,
  type PickedHeader,
  REACH_WORDS,
  type Reach,
  type Snapshot,
  sheetSize,
  suggestName,
  USUAL_LOOK,
  USUAL_PAPER,
} from '@tether/core';
import { FORMS, type Form } from '@tether/documents';
import { useEffect, useRef, useState } from 'react';
import { PlacedChart } from '../placed/PlacedChart.tsx';
import { PlacedFace } from '../placed/PlacedFace.tsx';
import { valueText } from '../placed/value-text.ts';
import {
  faultOf,
  useCellsQuery,
  useChangeTetherMutation,
  usePlaceMutation,
  useTakeQuery,
} from '../state/api.ts';
import { Button } from '../ui/Button.tsx';
import { FaultNote } from '../ui/FaultNote.tsx';
import { SelectField } from '../ui/SelectField.tsx';
import { TextField } from '../ui/TextField.tsx';
import { Tick } from '../ui/Tick.tsx';
import { useSettled } from '../ui/useSettled.ts';
import { Warnings } from '../ui/Warnings.tsx';
import { nextStep, type ReachDraft, reachOf } from './reach-draft.ts';

const PREVIEW_WIDTH = 292;
/** The preview shows things as they stand on the usual paper. */
const USUAL_SHEET = sheetSize(USUAL_PAPER);
const TEXT_WIDTH = USUAL_SHEET.textWidth;
const ROOM = { width: TEXT_WIDTH, height: USUAL_SHEET.textHeight };
const NOTHING = {};
const SETTLE_MS = 120;

interface Props {
  sourceId: string;
  contents: SourceContents;
  documentId: string;
  changing: Tether | null;
  draft: ReachDraft;
  onChange: (part: Partial<ReachDraft>) => void;
  /** What is being typed as a range, or null while it is taken from the sheet. */
  typed: string | null;
  onType: (text: string) => void;
  referenceFault: Fault | null;
  onPlaced: (tether: Tether) => void;
  /** Told which cells are taken now, and null while that is not known. */
  onTaken: (cells: { sheet: string; area: Area } | null) => void;
}

const FORM_NAMES: Record<Form, string> = {
  table: 'Table',
  facsimile: 'Facsimile',
  chart: 'Chart',
  value: 'Value',
  tag: 'Tag',
};

/** In which form the cells are placed; it can be changed later. */
function FormChoice({ form, onChange }: { form: Form; onChange: (form: Form) => void }) {
  return (
    <RadioGroup value={form} onChange={onChange} aria-label="Form" className="flex gap-1">
      {FORMS.map((each) => (
        <Field key={each} className="flex-1">
          <Radio
            value={each}
            className="flex h-7 w-full cursor-pointer items-center justify-center rounded-box border border-hairline bg-white data-checked:border-rope data-checked:bg-rope/10 data-checked:font-semibold"
          >
            <Label className="cursor-pointer">{FORM_NAMES[each]}</Label>
          </Radio>
        </Field>
      ))}
    </RadioGroup>
  );
}

/** At the right of Place: what is taken and how it follows growth, what comes of it, and the button. */
export function Outcome(props: Props) {
  const { sourceId, contents, documentId, changing, draft, onChange, typed, onPlaced } = props;
  const [ownName, setOwnName] = useState<string | null>(null);
  const [chosenForm, setForm] = useState<Form | null>(null);
  /** The reach for which the button was pressed. */
  const [pressed, setPressed] = useState<string | null>(null);
  const form = chosenForm ?? (draft.kind === 'chart' ? 'chart' : 'table');
  const [place, placing] = usePlaceMutation();
  const [changeTether, changingState] = useChangeTetherMutation();
  const isBusy = placing.isLoading || changingState.isLoading;
  const error = placing.error ?? changingState.error;

  const reach = props.referenceFault ? null : reachOf(draft);
  const key = JSON.stringify(reach);
  const settledKey = useSettled(key, SETTLE_MS);
  const settled = JSON.parse(settledKey) as Reach | null;
  const cells = draft.kind === 'block' && draft.area ? cellCount(draft.area) : 0;
  const tooLarge =
    cells > MAX_REACH_CELLS
      ? fault('reach-too-large', { cells: cells.toLocaleString('en') })
      : null;
  const { data, error: takeError } = useTakeQuery(
    { sourceId, hash: contents.hash, reach: settled! },
    { skip: settled === null || tooLarge !== null },
  );
  // What the reach took before stays while it is read anew from a source that changed.
  const taken = !takeError && data && JSON.stringify(data.reach) === settledKey ? data : undefined;
  const isSettled = key === settledKey;
  const { onTaken } = props;
  useEffect(() => {
    onTaken(taken ? { sheet: taken.snapshot.sheet, area: taken.area } : null);
  }, [onTaken, taken]);
  const isCurrent = isSettled && taken !== undefined;
  const isRefused = isSettled && takeError !== undefined;
  /** The growing block that begins with the header of the cells taken. */
  const growing = taken && draft.area ? growingFrom(taken.snapshot, draft.area) : null;
  const name = ownName ?? (taken && settled ? nameFor(settled, taken.snapshot) : '');
  const reference =
    typed ??
    (draft.area && !['name', 'whole sheet', 'chart'].includes(draft.kind)
      ? formatReference({ sheet: draft.sheet, area: draft.area })
      : '');

  const isNamed = changing !== null || (ownName === null && !isCurrent) || name.trim() !== '';
  const finish = async () => {
    if (!reach || !isNamed) return;
    const result = changing
      ? await changeTether({ id: changing.id, documentId, reach })
      : await place({ documentId, sourceId, reach, name: name.trim(), form });
    if (!result.error) onPlaced(result.data);
  };
  const finishNow = useRef(finish);
  finishNow.current = finish;
  // A press is not lost while that which it means is still being read; it is given up when something else is chosen.
  useEffect(() => {
    if (pressed === null || (pressed === key && !isCurrent && !isRefused)) return;
    setPressed(null);
    if (isCurrent && pressed === key) void finishNow.current();
  }, [pressed, key, isCurrent, isRefused]);

  return (
    <form
      className="flex w-[344px] shrink-0 flex-col gap-3 overflow-auto border-l border-hairline bg-white px-4 pt-3"
      onSubmit={(event) => {
        event.preventDefault();
        setPressed(key);
      }}
    >
      <ReachKinds draft={draft} onChange={onChange} />
      {draft.kind === 'name' ? (
        <Names contents={contents} draft={draft} onChange={onChange} />
      ) : draft.kind === 'chart' ? (
        <Charts contents={contents} draft={draft} onChange={onChange} />
      ) : draft.kind === 'whole sheet' ? null : (
        <TextField
          label={draft.kind === 'block' ? 'Cells' : 'Cells with the header row'}
          isAddress
          value={reference}
          onChange={props.onType}
          placeholder="drag over cells, or type B2:F14"
          fault={props.referenceFault ?? tooLarge}
          spellCheck={false}
        />
      )}
      {draft.kind === 'picked columns' && draft.area && (
        <Headers sourceId={sourceId} contents={contents} draft={draft} onChange={onChange} />
      )}
      {!changing && (
        <TextField
          label="Name"
          value={name}
          isSuggested={ownName === null}
          onChange={setOwnName}
          maxLength={120}
          placeholder="suggested from the header"
        />
      )}
      {!changing && <FormChoice form={form} onChange={setForm} />}
      <div>
        <h3 className="mb-1 text-sm font-semibold text-muted">As it will stand in the document</h3>
        <div
          data-testid="preview"
          className="max-h-[210px] min-h-[80px] overflow-hidden border border-hairline bg-white p-2"
        >
          {settled === null || tooLarge ? (
            <p className="text-muted">{nextStep(draft)}</p>
          ) : takeError ? (
            <FaultNote fault={faultOf(takeError)} />
          ) : taken && form === 'chart' && !changing ? (
            <PlacedChart
              snapshot={taken.snapshot}
              making={undefined}
              label="Preview"
              height={190}
            />
          ) : taken && form === 'value' && !changing ? (
            <p className="font-serif text-[15px]">… {valueText(taken.snapshot, {})} …</p>
          ) : taken && form === 'tag' && !changing ? (
            <p className="text-[11px]">
              {describeReach(settled)} <span className="text-muted">leads to the source</span>
            </p>
          ) : taken ? (
            <div
              // Unlike a transformation it takes no more room than is seen.
              style={{ zoom: previewScale(taken.snapshot) }}
            >
              <PlacedFace
                snapshot={taken.snapshot}
                form={changing ? 'table' : form}
                dressing={NOTHING}
                look={USUAL_LOOK}
                room={ROOM}
                label="Preview"
                maxRows={60}
              />
            </div>
          ) : (
            <p className="text-muted">Reading …</p>
          )}
        </div>
        {taken && settled && (
          <p className="mt-1 text-muted">
            <span className="font-mono text-[12px]">{formatArea(taken.area)}</span>:{' '}
            {counted(taken.area.bottom - taken.area.top + 1, 'row')},{' '}
            {counted(columnWidths(taken.snapshot).filter((width) => width > 0).length, 'column')}
            {(form === 'table' || form === 'facsimile') && `; ${widthInWords(taken.snapshot)}`}
          </p>
        )}
        {taken && !['chart', 'value', 'tag'].includes(form) && (
          <HeaderChoice snapshot={taken.snapshot} draft={draft} onChange={onChange} />
        )}
        {taken && (
          <Warnings
            warnings={taken.warnings}
            action={({ code, area, name: named }) =>
              code === 'named' && named ? (
                <button
                  type="button"
                  className="underline"
                  onClick={() => onChange({ kind: 'name', name: named })}
                >
                  Take it by its name
                </button>
              ) : code === 'column beside' && area && draft.area ? (
                <button
                  type="button"
                  className="underline"
                  onClick={() => onChange({ area: { ...draft.area!, right: area.right } })}
                >
                  Take it too
                </button>
              ) : code === 'total inside' && draft.kind === 'block' && growing ? (
                <button type="button" className="underline" onClick={() => onChange(growing)}>
                  Take a growing block, which keeps it when rows are put in
                </button>
              ) : (code === 'data below' || code === 'total below') &&
                area &&
                draft.area &&
                draft.kind === 'block' ? (
                <button
                  type="button"
                  className="underline"
                  onClick={() => onChange({ area: { ...draft.area!, bottom: area.bottom } })}
                >
                  {code === 'total below' ? 'Take it too' : 'Take them too'}
                </button>
              ) : null
            }
          />
        )}
      </div>
      {(taken?.warnings.some(({ code }) => code.startsWith('hidden')) || draft.withHidden) && (
        <Tick isOn={draft.withHidden} onChange={(withHidden) => onChange({ withHidden })}>
          Take hidden rows and columns too
        </Tick>
      )}
      {error && <FaultNote fault={faultOf(error)} />}
      <div className="sticky bottom-0 z-10 mt-auto border-t border-hairline bg-white py-3">
        <Button
          className="w-full"
          type="submit"
          kind="primary"
          aria-busy={pressed !== null || isBusy}
          disabled={
            !reach || isRefused || tooLarge !== null || isBusy || pressed !== null || !isNamed
          }
        >
          {changing ? 'Take this instead' : 'Place it'}
        </Button>
      </div>
    </form>
  );
}

const KINDS = Object.keys(REACH_WORDS) as Reach['kind'][];

function ReachKinds({ draft, onChange }: Pick<Props, 'draft' | 'onChange'>) {
  return (
    <div>
      <RadioGroup
        value={draft.kind}
        onChange={(kind) => onChange({ kind })}
        aria-label="How it follows the source"
        className="grid grid-cols-2 gap-0.5"
      >
        {KINDS.map((kind) => (
          <Field key={kind}>
            <Radio
              value={kind}
              className="group flex w-full cursor-pointer items-center gap-1.5 rounded-box border border-transparent px-1.5 py-1 data-checked:border-rope data-checked:bg-rope/10"
            >
              <span className="size-3 shrink-0 rounded-full border border-muted group-data-checked:border-4 group-data-checked:border-deep" />
              <Label className="cursor-pointer font-semibold whitespace-nowrap">
                {REACH_WORDS[kind].name}
              </Label>
            </Radio>
          </Field>
        ))}
      </RadioGroup>
      <p className="px-1.5 pt-1 text-muted">{REACH_WORDS[draft.kind].sentence}</p>
    </div>
  );
}

function Names({ contents, draft, onChange }: Pick<Props, 'contents' | 'draft' | 'onChange'>) {
  const all = [
    ...contents.tables.map((table) => ({
      name: table.name,
      sheet: null,
      at: formatReference({ sheet: table.sheet, area: table.area }),
      where: { sheet: table.sheet, area: table.area },
    })),
    ...contents.names.map((name) => ({
      name: name.name,
      sheet: name.sheet,
      at: name.refersTo,
      where: name.area,
    })),
  ];
  if (all.length === 0)
    return <p className="text-muted">This source has no names and no tables.</p>;
  return (
    <ul
      aria-label="Names and tables"
      className="flex max-h-40 shrink-0 flex-col overflow-auto border border-hairline"
    >
      {all.map((each) => {
        const isChosen = draft.name?.name === each.name && draft.name.sheet === each.sheet;
        return (
          <li key={`${each.sheet}!${each.name}`}>
            <button
              type="button"
              aria-current={isChosen}
              disabled={each.where === null}
              className={`flex w-full flex-col px-2 py-1 text-left disabled:text-muted ${isChosen ? 'bg-rope/15' : 'enabled:hover:bg-mist'}`}
              onClick={() =>
                onChange({
                  name: { name: each.name, sheet: each.sheet },
                  ...(each.where ? { sheet: each.where.sheet, area: each.where.area } : {}),
                })
              }
            >
              <span className="font-semibold">
                {each.name}
                {each.sheet && <span className="font-normal text-muted"> of {each.sheet}</span>}
              </span>
              <span className="truncate font-mono text-[11px] text-muted">{each.at}</span>
              {each.where === null && (
                <span className="text-sm">a formula, which cannot be followed</span>
              )}
            </button>
          </li>
        );
      })}
    </ul>
  );
}

/** The source's charts, to take one with its cells. */
function Charts({ contents, draft, onChange }: Pick<Props, 'contents' | 'draft' | 'onChange'>) {
  if (contents.charts.length === 0) return <p className="text-muted">This source has no charts.</p>;
  return (
    <ul
      aria-label="Charts of the source"
      className="flex max-h-40 shrink-0 flex-col overflow-auto border border-hairline"
    >
      {contents.charts.map(({ id, name, sheet }) => {
        const isChosen = draft.chart?.id === id;
        return (
          <li key={id}>
            <button
              type="button"
              aria-current={isChosen}
              className={`flex w-full flex-col px-2 py-1 text-left ${isChosen ? 'bg-rope/15' : 'hover:bg-mist'}`}
              onClick={() => onChange({ chart: { id, sheet } })}
            >
              <span className="font-semibold">{name}</span>
              <span className="text-muted">on {sheet}</span>
            </button>
          </li>
        );
      })}
    </ul>
  );
}

/** The growing block that begins with the header of cells, and takes its columns; null where they have no header. */
function growingFrom(snapshot: Snapshot, area: Area): Partial<ReachDraft> | null {
  const { title, rows } = headerOf(snapshot);
  if (rows === 0) return null;
  return { kind: 'growing block', area: { ...area, top: snapshot.area.top + title } };
}

/** Which rows are the header: as it reads, or as a person says. */
function HeaderChoice(props: Pick<Props, 'draft' | 'onChange'> & { snapshot: Snapshot }) {
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
function Headers(props: Pick<Props, 'sourceId' | 'contents' | 'draft' | 'onChange'>) {
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

function nameFor(reach: Reach, snapshot: Snapshot): string {
  if (reach.kind === 'chart' && snapshot.chart) return snapshot.chart.name;
  return reach.kind === 'name' ? reach.name : suggestName(snapshot);
}

function counted(count: number, what: string): string {
  return `${count} ${count === 1 ? what : `${what}s`}`;
}

function widthOf(snapshot: Snapshot): number {
  return columnWidths(snapshot).reduce((sum, width) => sum + width, 0);
}

/** As large as the room allows, never larger than it will stand on the page. */
function previewScale(snapshot: Snapshot): number {
  return Math.min(1, PREVIEW_WIDTH / Math.max(1, Math.min(widthOf(snapshot), TEXT_WIDTH * 1.5)));
}

function widthInWords(snapshot: Snapshot): string {
  const share = widthOf(snapshot) / TEXT_WIDTH;
  return share > 1
    ? 'wider than the text on the page'
    : `${Math.round(share * 100)} % of the text’s width`;
}
