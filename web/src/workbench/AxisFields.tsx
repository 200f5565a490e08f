import {
  type AxisMaking,
  type ChartMaking,
  makeChart,
  type Sample,
  type Snapshot,
  sampleOf,
  USUAL_AXIS,
} from '@tether/core';
import { FormatField } from '../ui/fields/FormatField.tsx';
import { NumberField } from '../ui/fields/NumberField.tsx';
import { TextField } from '../ui/fields/TextField.tsx';

interface Props {
  snapshot: Snapshot;
  making: ChartMaking;
  isAllowed: boolean;
  onChange: (making: ChartMaking) => void;
}

type AxisName = 'namesAxis' | 'valueAxis' | 'secondAxis';

/** Words, bounds and number format of each axis of a chart. */
export function AxisFields({ snapshot, making, isAllowed, onChange }: Props) {
  const { groups, dates } = makeChart(snapshot, making);
  const isFree = making.kind === 'scatter';
  const sampleIn = (isSecond: boolean): Sample | null => {
    const values = groups
      .filter(({ group }) => group.isSecondary === isSecond)
      .flatMap(({ series }) => series.flatMap((each) => each.values));
    const value = values.find((each) => typeof each === 'number');
    return typeof value === 'number' ? { value, isDate: false } : null;
  };
  const across =
    dates === null ? null : sampleOf(snapshot.cells.filter(({ type }) => type === 'date'));
  const axes: { name: AxisName; title: string; sample: Sample | null; isMeasured: boolean }[] = [
    { name: 'namesAxis', title: isFree ? 'Across' : 'Points', sample: across, isMeasured: isFree },
    { name: 'valueAxis', title: 'Values', sample: sampleIn(false), isMeasured: true },
    ...(groups.some(({ group }) => group.isSecondary)
      ? [
          {
            name: 'secondAxis' as const,
            title: 'Second axis',
            sample: sampleIn(true),
            isMeasured: true,
          },
        ]
      : []),
  ];
  return (
    <div className="flex flex-col gap-4">
      {axes.map(({ name, title, sample, isMeasured }) => {
        const axis = making[name] ?? USUAL_AXIS;
        const set = (change: Partial<AxisMaking>) =>
          onChange({ ...making, [name]: { ...axis, ...change } });
        return (
          <fieldset key={name} className="flex flex-col gap-2" disabled={!isAllowed}>
            <legend className="mb-1 text-sm font-semibold">{title}</legend>
            <TextField
              label={`${title}: title`}
              value={axis.title}
              maxLength={200}
              placeholder="none"
              onChange={(words) => set({ title: words })}
            />
            {isMeasured &&
              (['min', 'max'] as const).map((bound) => (
                <NumberField
                  key={bound}
                  label={bound === 'min' ? 'Least value' : 'Greatest value'}
                  value={axis[bound]}
                  unit=""
                  min={-1e300}
                  max={1e300}
                  isExact
                  placeholder="as the figures need"
                  disabled={!isAllowed}
                  onChange={(value) => set({ [bound]: value })}
                />
              ))}
            {(isMeasured || sample) && (
              <FormatField
                label="Number format"
                value={axis.format}
                usual="as the cells"
                sample={sample}
                disabled={!isAllowed}
                onChange={(format) => set({ format })}
              />
            )}
          </fieldset>
        );
      })}
    </div>
  );
}
