import {
  type BandKey,
  columnKeys,
  columnName,
  formatArea,
  gridOf,
  isSameBand,
  type Override,
  type OverrideLook,
  placeOverrides,
  rowKeys,
  type Snapshot,
  setOverride,
} from '@tether/core';
import { Undo2 } from 'lucide-react';
import { useMemo } from 'react';
import { useAppDispatch, useAppSelector } from '../app/store.ts';
import { Button } from '../ui/Button.tsx';
import { ColourField } from '../ui/ColourField.tsx';
import { IconButton } from '../ui/IconButton.tsx';
import { NumberField } from '../ui/NumberField.tsx';
import { SelectField } from '../ui/SelectField.tsx';
import { TextField } from '../ui/TextField.tsx';
import { Tick } from '../ui/Tick.tsx';
import { cellPicked } from './workbenchSlice.ts';

interface Props {
  tetherId: string;
  snapshot: Snapshot;
  overrides: readonly Override[];
  isAllowed: boolean;
  onChange: (overrides: Override[]) => void;
}

/** The most rows offered by name; others are picked on the table. */
const MOST_ROWS = 400;

/** What is set for a cell, a row, a column or the whole table, on top of its look; each can go back by itself. */
export function OverrideFields({ tetherId, snapshot, overrides, isAllowed, onChange }: Props) {
  const dispatch = useAppDispatch();
  const picked = useAppSelector(({ workbench }) =>
    workbench.picked?.tetherId === tetherId ? workbench.picked : null,
  );
  const { rows, columns } = useMemo(() => {
    const grid = gridOf(snapshot);
    return { rows: rowKeys(grid), columns: columnKeys(snapshot, grid) };
  }, [snapshot]);
  const { waiting } = useMemo(() => placeOverrides(snapshot, overrides), [snapshot, overrides]);
  const row = picked?.row == null ? null : (rows[picked.row] ?? null);
  const column = picked?.column == null ? null : (columns[picked.column] ?? null);
  const look: OverrideLook =
    overrides.find((each) => isSameBand(each.row, row) && isSameBand(each.column, column))?.look ??
    {};
  const set = (change: OverrideLook) => onChange(setOverride(overrides, row, column, change));
  const pick = (part: { row?: number | null; column?: number | null }) =>
    dispatch(
      cellPicked({ tetherId, row: picked?.row ?? null, column: picked?.column ?? null, ...part }),
    );
  const { area } = snapshot;
  const rowName = (key: BandKey, at: number) => key.text || `row ${area.top + at}`;
  const nameOfColumn = (key: BandKey, at: number) =>
    key.text || `column ${columnName(area.left + at)}`;
  const shownRows = rows.slice(0, MOST_ROWS);
  const beyond = picked?.row != null && picked.row >= MOST_ROWS ? [picked.row] : [];

  return (
    <fieldset className="mt-2 flex flex-col gap-2 border-t border-hairline pt-3">
      <legend className="sr-only">Single cells, rows and columns</legend>
      <p className="text-sm font-semibold text-muted">Set for a part of it</p>
      <p className="text-muted">Click a cell of the table, or choose:</p>
      <SelectField
        label="Row"
        value={String(picked?.row ?? 'all')}
        options={[
          { value: 'all', label: 'every row' },
          ...shownRows.map((key, at) => ({ value: String(at), label: rowName(key, at) })),
          ...beyond.map((at) => ({ value: String(at), label: rowName(rows[at]!, at) })),
        ]}
        onChange={(at) => pick({ row: at === 'all' ? null : Number(at) })}
      />
      <SelectField
        label="Column"
        value={String(picked?.column ?? 'all')}
        options={[
          { value: 'all', label: 'every column' },
          ...columns.map((key, at) => ({ value: String(at), label: nameOfColumn(key, at) })),
        ]}
        onChange={(at) => pick({ column: at === 'all' ? null : Number(at) })}
      />
      <SelectField
        label="Alignment"
        value={look.align ?? 'asis'}
        options={[
          { value: 'asis', label: 'as it is' },
          { value: 'left', label: 'left' },
          { value: 'center', label: 'centred' },
          { value: 'right', label: 'right' },
        ]}
        disabled={!isAllowed}
        onChange={(align) => set({ align: align === 'asis' ? undefined : align })}
      />
      <Switched
        label="Bold"
        value={look.bold}
        words={['bold', 'not bold']}
        isAllowed={isAllowed}
        onChange={(bold) => set({ bold })}
      />
      <Switched
        label="Italic"
        value={look.italic}
        words={['italic', 'not italic']}
        isAllowed={isAllowed}
        onChange={(italic) => set({ italic })}
      />
      <ColourField
        label="Text colour"
        value={look.colour ?? null}
        disabled={!isAllowed}
        onChange={(colour) => set({ colour: colour ?? undefined })}
      />
      <ColourField
        label="Fill"
        value={look.fill === 'none' ? null : (look.fill ?? null)}
        disabled={!isAllowed}
        onChange={(fill) => set({ fill: fill ?? undefined })}
      />
      <Tick
        isOn={look.fill === 'none'}
        isDisabled={!isAllowed}
        onChange={(isOn) => set({ fill: isOn ? 'none' : undefined })}
      >
        No fill
      </Tick>
      <TextField
        label="Number format"
        isAddress
        value={look.format ?? ''}
        maxLength={120}
        disabled={!isAllowed}
        placeholder="as it is"
        onChange={(format) => set({ format: format === '' ? undefined : format })}
      />
      {row === null && (
        <NumberField
          label="Width"
          value={look.width ?? null}
          unit="mm"
          min={2}
          max={400}
          placeholder="as it is"
          disabled={!isAllowed}
          onChange={(width) => set({ width: width ?? undefined })}
        />
      )}
      {column === null && (
        <NumberField
          label="Height"
          value={look.height ?? null}
          unit="mm"
          min={2}
          max={250}
          placeholder="as it is"
          disabled={!isAllowed}
          onChange={(height) => set({ height: height ?? undefined })}
        />
      )}
      {(row === null) !== (column === null) && (
        <Tick
          isOn={look.isHidden ?? false}
          isDisabled={!isAllowed}
          onChange={(isOn) => set({ isHidden: isOn || undefined })}
        >
          {row === null ? 'Leave this column out' : 'Leave this row out'}
        </Tick>
      )}
      {overrides.length > 0 && (
        <>
          <p className="mt-1 text-sm font-semibold text-muted">Set in this table</p>
          <ul aria-label="Set in this table" className="flex flex-col">
            {overrides.map((each, index) => {
              const name = nameOf(each);
              return (
                <li key={index} className="flex items-center gap-1">
                  <span className="min-w-0 flex-1 truncate" title={name}>
                    {name}
                    <span className="text-muted">
                      {' '}
                      {waiting.includes(each) ? 'not there now' : wordsOf(each.look)}
                    </span>
                  </span>
                  <IconButton
                    icon={Undo2}
                    label={`${name}: back to the source’s look`}
                    disabled={!isAllowed}
                    onClick={() => onChange(overrides.filter((other) => other !== each))}
                  />
                </li>
              );
            })}
          </ul>
          <Button disabled={!isAllowed} onClick={() => onChange([])}>
            All back to the source’s look
          </Button>
        </>
      )}
      <span className="sr-only" role="status">
        {picked &&
          (row || column) &&
          `Picked in ${formatArea(area)}: ${nameOf({ row, column, look: {} })}`}
      </span>
    </fieldset>
  );
}

/** Something that is on, off, or as it is without. */
function Switched(props: {
  label: string;
  value: boolean | undefined;
  words: readonly [on: string, off: string];
  isAllowed: boolean;
  onChange: (value: boolean | undefined) => void;
}) {
  const { label, value, words, isAllowed, onChange } = props;
  return (
    <SelectField
      label={label}
      value={value === undefined ? 'asis' : value ? 'on' : 'off'}
      options={[
        { value: 'asis', label: 'as it is' },
        { value: 'on', label: words[0] },
        { value: 'off', label: words[1] },
      ]}
      disabled={!isAllowed}
      onChange={(next) => onChange(next === 'asis' ? undefined : next === 'on')}
    />
  );
}

function nameOf({ row, column }: Override): string {
  if (row && column) return `${row.text || 'a row'}, ${column.text || 'a column'}`;
  if (row) return `Row ${row.text || 'without a name'}`;
  if (column) return `Column ${column.text || 'without a name'}`;
  return 'Whole table';
}

/** What is set, in few words. */
function wordsOf(look: OverrideLook): string {
  const words: [keyof OverrideLook, string][] = [
    ['align', 'alignment'],
    ['bold', 'bold'],
    ['italic', 'italic'],
    ['colour', 'text colour'],
    ['fill', 'fill'],
    ['format', 'number format'],
    ['width', 'width'],
    ['height', 'height'],
    ['isHidden', 'left out'],
  ];
  return words
    .filter(([key]) => look[key] !== undefined)
    .map(([, word]) => word)
    .join(', ');
}
