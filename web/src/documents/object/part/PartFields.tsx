import { formatArea, type Override, type OverrideLook, placeOverrides } from '@tether/core';
import { Undo2 } from 'lucide-react';
import { useMemo } from 'react';
import { Button } from '../../../ui/Button.tsx';
import { SelectField } from '../../../ui/fields/SelectField.tsx';
import { IconButton } from '../../../ui/IconButton.tsx';
import { LookButtons } from './LookButtons.tsx';
import { MeasureFields } from './MeasureFields.tsx';
import { nameOfColumn, nameOfPart, nameOfRow, usePart } from './usePart.ts';

type Props = Parameters<typeof usePart>[0] & { isAllowed: boolean };

/** The most rows offered by name; others are picked on the table. */
const MOST_ROWS = 400;

/** What is set for a cell, a row, a column or the whole table, on top of its look; each can go back by itself. */
export function PartFields({ isAllowed, ...wish }: Props) {
  const { snapshot, overrides, onChange } = wish;
  const part = usePart(wish);
  const { rows, columns, row, column, pick } = part;
  const { waiting } = useMemo(() => placeOverrides(snapshot, overrides), [snapshot, overrides]);
  const rowAt = row === null ? null : rows.indexOf(row);
  const columnAt = column === null ? null : columns.indexOf(column);
  const shownRows = rows.slice(0, MOST_ROWS);
  const beyond = rowAt !== null && rowAt >= MOST_ROWS ? [rowAt] : [];

  return (
    <fieldset className="flex flex-col gap-2">
      <legend className="sr-only">Single cells, rows and columns</legend>
      <p className="text-muted">Click a cell of the table, or choose a row or column here.</p>
      <SelectField
        label="Row"
        value={String(rowAt ?? 'all')}
        options={[
          { value: 'all', label: 'every row' },
          ...shownRows.map((key, at) => ({
            value: String(at),
            label: nameOfRow(key, at, snapshot),
          })),
          ...beyond.map((at) => ({
            value: String(at),
            label: nameOfRow(rows[at]!, at, snapshot),
          })),
        ]}
        onChange={(at) => pick({ row: at === 'all' ? null : Number(at) })}
      />
      <SelectField
        label="Column"
        value={String(columnAt ?? 'all')}
        options={[
          { value: 'all', label: 'every column' },
          ...columns.map((key, at) => ({
            value: String(at),
            label: nameOfColumn(key, at, snapshot),
          })),
        ]}
        onChange={(at) => pick({ column: at === 'all' ? null : Number(at) })}
      />
      <div className="flex items-center">
        <LookButtons part={part} isAllowed={isAllowed} />
      </div>
      <MeasureFields part={part} isAllowed={isAllowed} />
      {overrides.length > 0 && (
        <>
          <h4 className="mt-1 text-sm font-semibold text-muted">Set in this table</h4>
          <ul aria-label="Set in this table" className="flex flex-col">
            {overrides.map((each, index) => {
              const name = nameOfPart(each);
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
                    label={`${name}: as it was`}
                    disabled={!isAllowed}
                    onClick={() => onChange(overrides.filter((other) => other !== each))}
                  />
                </li>
              );
            })}
          </ul>
          <Button disabled={!isAllowed} onClick={() => onChange([])}>
            Take all of these back
          </Button>
        </>
      )}
      <span className="sr-only" role="status">
        {part.isPicked && `Picked in ${formatArea(snapshot.area)}: ${part.name}`}
      </span>
    </fieldset>
  );
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

/** How many things are set, in words; nothing where there are none. */
export function countOverrides(overrides: readonly Override[]): string | undefined {
  if (overrides.length === 0) return undefined;
  return overrides.length === 1 ? '1 set' : `${overrides.length} set`;
}
