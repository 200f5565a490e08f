import { type ChartMaking, MADE_KINDS, makeChart, type Snapshot } from '@tether/core';
import {
  ChartArea,
  ChartBar,
  ChartColumn,
  ChartLine,
  ChartPie,
  ChartScatter,
  Donut,
  type LucideIcon,
} from 'lucide-react';
import { ChoiceField } from '../ui/fields/ChoiceField.tsx';
import { SelectField } from '../ui/fields/SelectField.tsx';
import { TextField } from '../ui/fields/TextField.tsx';
import { Tick } from '../ui/fields/Tick.tsx';

const KINDS: Record<ChartMaking['kind'], { label: string; icon: LucideIcon }> = {
  column: { label: 'Columns', icon: ChartColumn },
  bar: { label: 'Bars', icon: ChartBar },
  line: { label: 'Lines', icon: ChartLine },
  area: { label: 'Areas', icon: ChartArea },
  pie: { label: 'Pie', icon: ChartPie },
  doughnut: { label: 'Ring', icon: Donut },
  scatter: { label: 'Points', icon: ChartScatter },
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
      <ChoiceField
        label="Drawn as"
        isTiled
        value={making.kind}
        options={MADE_KINDS.map((kind) => ({ value: kind, ...KINDS[kind] }))}
        disabled={!isAllowed}
        onChange={(kind) => set({ kind })}
      />
      <ChoiceField
        label="Series from"
        value={making.seriesBy}
        options={[
          { value: 'columns', label: 'columns' },
          { value: 'rows', label: 'rows' },
        ]}
        disabled={!isAllowed}
        onChange={(seriesBy) => set({ seriesBy })}
      />
      {canStack && (
        <ChoiceField
          label="Stacked"
          value={making.stacking}
          options={[
            { value: 'none', label: 'no' },
            { value: 'stacked', label: 'yes' },
            { value: 'share', label: '100 %' },
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
