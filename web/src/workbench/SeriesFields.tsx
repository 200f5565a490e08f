import {
  type BandKey,
  type ChartMaking,
  hasAxes,
  isSameBand,
  pointsOffered,
  type SeriesMaking,
  type Snapshot,
  seriesOffered,
} from '@tether/core';
import { ArrowDown, ArrowUp, Eye, EyeOff, PanelRight } from 'lucide-react';
import { SelectField } from '../ui/fields/SelectField.tsx';
import { IconButton } from '../ui/IconButton.tsx';

interface Props {
  snapshot: Snapshot;
  making: ChartMaking;
  isAllowed: boolean;
  onChange: (making: ChartMaking) => void;
}

/** Which column names the points of a chart, and its series: which, in which order, by which axis. */
export function SeriesFields({ snapshot, making, isAllowed, onChange }: Props) {
  const series = seriesOffered(snapshot, making);
  const { columns, now } = pointsOffered(snapshot, making);
  const nameOf = (key: BandKey, at: number) =>
    key.text || `${making.seriesBy === 'columns' ? 'column' : 'row'} ${at + 1}`;
  /** All of them as they are now, so that their order is said. */
  const asTheyAre = (): SeriesMaking[] =>
    series.map(({ column, isLeftOut, isOnSecond }) => ({
      column,
      isLeftOut,
      ...(isOnSecond === undefined ? {} : { isOnSecond }),
    }));
  /** What is set for columns that are not there waits behind those that are. */
  const waiting = (making.series ?? []).filter(
    (each) => !series.some(({ column }) => isSameBand(column, each.column)),
  );
  const write = (next: SeriesMaking[]) => onChange({ ...making, series: [...next, ...waiting] });
  const set = (at: number, change: Partial<SeriesMaking>) =>
    write(asTheyAre().map((each, index) => (index === at ? { ...each, ...change } : each)));
  const move = (at: number, by: 1 | -1) => {
    const next = asTheyAre();
    const [moved] = next.splice(at, 1);
    next.splice(at + by, 0, moved!);
    write(next);
  };
  const isSet = making.series !== undefined || making.points !== undefined;
  return (
    <div className="flex flex-col gap-2">
      <SelectField
        label={making.kind === 'scatter' ? 'Across' : 'Points named'}
        value={now === null ? 'none' : String(now)}
        options={[
          ...columns.map((key, at) => ({ value: String(at), label: `by ${nameOf(key, at)}` })),
          { value: 'none', label: 'by their number' },
        ]}
        disabled={!isAllowed}
        onChange={(at) =>
          onChange({ ...making, points: at === 'none' ? null : columns[Number(at)] })
        }
      />
      <ul aria-label="Series" className="flex flex-col">
        {series.map(({ name, isLeftOut, isApart, column }, at) => (
          <li key={`${column.text} ${column.nth}`} className="flex items-center">
            <span
              className={`min-w-0 flex-1 truncate ${isLeftOut ? 'text-muted line-through' : ''}`}
              title={name}
            >
              {name}
            </span>
            <IconButton
              icon={ArrowUp}
              label={`${name}: earlier`}
              disabled={!isAllowed || at === 0}
              onClick={() => move(at, -1)}
            />
            <IconButton
              icon={ArrowDown}
              label={`${name}: later`}
              disabled={!isAllowed || at === series.length - 1}
              onClick={() => move(at, 1)}
            />
            {hasAxes(making) && (
              <IconButton
                icon={PanelRight}
                label={`${name}: by the second axis`}
                isOn={isApart}
                disabled={!isAllowed || isLeftOut}
                onClick={() => set(at, { isOnSecond: !isApart })}
              />
            )}
            <IconButton
              icon={isLeftOut ? EyeOff : Eye}
              label={`${name}: drawn`}
              isOn={!isLeftOut}
              disabled={!isAllowed}
              onClick={() => set(at, { isLeftOut: !isLeftOut })}
            />
          </li>
        ))}
      </ul>
      {isAllowed && isSet && (
        <button
          type="button"
          className="self-start text-deep underline"
          onClick={() => {
            const { points: _, series: __, ...rest } = making;
            onChange(rest);
          }}
        >
          As they are found in the cells
        </button>
      )}
    </div>
  );
}
