import { type ChartMaking, MADE_KINDS, makeChart, type Snapshot } from '@tether/core';
import { SelectField } from '../ui/SelectField.tsx';
import { TextField } from '../ui/TextField.tsx';
import { Tick } from '../ui/Tick.tsx';

const KIND_WORDS: Record<ChartMaking['kind'], string> = {
  column: 'Columns',
  bar: 'Bars',
  line: 'Lines',
  area: 'Areas',
  pie: 'Pie',
  doughnut: 'Doughnut',
  scatter: 'Points',
};

/** How a chart is made of its object's cells. */
export function ChartFields(props: {
  snapshot: Snapshot;
  making: ChartMaking;
  isAllowed: boolean;
  onChange: (making: ChartMaking) => void;
}) {
  const { snapshot, making, isAllowed, onChange } = props;
  const set = (part: Partial<ChartMaking>) => onChange({ ...making, ...part });
  const { warnings } = makeChart(snapshot, making);
  const canStack = ['column', 'bar', 'area'].includes(making.kind);
  return (
    <>
      <SelectField
        label="Drawn as"
        value={making.kind}
        options={MADE_KINDS.map((kind) => ({ value: kind, label: KIND_WORDS[kind] }))}
        disabled={!isAllowed}
        onChange={(kind) => set({ kind })}
      />
      <SelectField
        label="A series is"
        value={making.seriesBy}
        options={[
          { value: 'columns', label: 'each column' },
          { value: 'rows', label: 'each row' },
        ]}
        disabled={!isAllowed}
        onChange={(seriesBy) => set({ seriesBy })}
      />
      {canStack && (
        <SelectField
          label="Series stand"
          value={making.stacking}
          options={[
            { value: 'none', label: 'beside each other' },
            { value: 'stacked', label: 'on each other' },
            { value: 'share', label: 'as shares of all' },
          ]}
          disabled={!isAllowed}
          onChange={(stacking) => set({ stacking })}
        />
      )}
      <SelectField
        label="Legend"
        value={making.legend ?? 'none'}
        options={[
          { value: 'bottom', label: 'below' },
          { value: 'top', label: 'above' },
          { value: 'right', label: 'at the right' },
          { value: 'left', label: 'at the left' },
          { value: 'none', label: 'none' },
        ]}
        disabled={!isAllowed}
        onChange={(legend) => set({ legend: legend === 'none' ? null : legend })}
      />
      <TextField
        label="Title"
        value={making.title}
        maxLength={200}
        disabled={!isAllowed}
        placeholder="none"
        onChange={(title) => set({ title })}
      />
      {isAllowed && (
        <Tick isOn={making.withTotals} onChange={(withTotals) => set({ withTotals })}>
          Draw rows of totals too
        </Tick>
      )}
      {warnings.map((warning) => (
        <p key={warning} className="text-muted">
          {warning}
        </p>
      ))}
    </>
  );
}
